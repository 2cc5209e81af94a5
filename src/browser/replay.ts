// Shows the offer from its second on, once it was reached. Without it the offer stands there.
const video = document.querySelector("video")
const offer = document.getElementById("offer")

if (video && offer) {
  offer.hidden = true
  video.ontimeupdate = video.onloadedmetadata = () => {
    const at = Number(offer.dataset.at)
    // What plays shorter than the webinar was shows it at the same share.
    const from = video.duration < at ? video.duration * Number(offer.dataset.part) : at
    if (video.currentTime >= from) offer.hidden = false
  }
}

export {}
