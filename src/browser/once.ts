// A button pressed twice is pressed once; without scripts the server sees to it.
for (const form of document.forms)
  form.onsubmit = () => {
    setTimeout(() => {
      for (const button of form.querySelectorAll("button")) button.disabled = true
    })
  }

export {}
