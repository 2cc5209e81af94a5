// Shows every date where the visitor is, by their browser or as they choose; without it they read the zone that is named.
import { fillZone, ownZone, showTimes } from "./clock"

function show(zone: string): void {
  showTimes(zone)
  fillZone(zone)
  for (const name of document.querySelectorAll(".zone")) name.textContent = zone
}

try {
  const own = ownZone()
  show(own)
  const choice = document.getElementById("tz") as HTMLSelectElement | null
  if (choice) {
    const url = new URL(location.href)
    // Dates that depend on the zone are asked for anew.
    const asks = "asks" in choice.dataset
    const ask = (zone: string) => {
      url.searchParams.set("zone", zone)
      location.replace(url)
    }
    const asked = url.searchParams.get("zone")
    if (asks && !asked) ask(own)
    choice.replaceChildren(
      ...[...new Set([own, ...Intl.supportedValuesOf("timeZone")])].map((zone) => new Option(zone)),
    )
    choice.value = asked || own
    show(choice.value)
    choice.disabled = false
    choice.onchange = () => (asks ? ask : show)(choice.value)
  }
} catch {}
