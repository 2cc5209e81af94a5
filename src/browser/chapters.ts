// Jumps to the chapters of the film above them. Without it they open the film at their second.
for (const list of document.querySelectorAll(".chapters")) {
  let film = list.previousElementSibling
  while (film && !(film instanceof HTMLVideoElement)) film = film.previousElementSibling
  const video = film
  if (video)
    for (const link of list.querySelectorAll("a"))
      link.onclick = (event) => {
        event.preventDefault()
        video.currentTime = Number(link.dataset.at)
        video.play()
      }
}

export {}
