// A sales page looked at by a slow phone, against a page written by hand with the same words, pictures and typefaces: when its largest thing stands,
// and whether anything moves.
import { createServer, get } from "node:http"
import { brotliCompressSync } from "node:zlib"
import { type Browser, chromium } from "playwright-core"
import { startDemoSchool } from "@/cli/demo-school"
import { type Line, median } from "./report"

const rounds = 7
const path = "/a-year"

export async function benchVisit(folder: string): Promise<Line[]> {
  const school = await startDemoSchool(folder, 200)
  const browser = await chromium.launch({
    executablePath: "/usr/bin/chromium",
    args: ["--no-sandbox", "--disable-gpu", "--disable-background-networking"],
  })
  const [still, swaps] = [
    await byHand(browser, school.origin, "optional"),
    await byHand(browser, school.origin, "swap"),
  ]
  try {
    const looks = { ours: [] as Look[], still: [] as Look[], swaps: [] as Look[] }
    for (let i = 0; i <= rounds; i++) {
      const round = {
        ours: await lookAt(browser, school.origin + path),
        still: await lookAt(browser, still.origin),
        swaps: await lookAt(browser, swaps.origin),
      }
      // The first draws the pictures' forms.
      if (i) for (const whose of ["ours", "still", "swaps"] as const) looks[whose].push(round[whose])
    }
    const of = (all: Look[], what: keyof Look) => median(all.map((l) => l[what]))
    const largest = (whose: "still" | "swaps", says: string): Line => {
      const [ours, against] = [of(looks.ours, "largest"), of(looks[whose], "largest")]
      return {
        what: `largest contentful paint, ms, at 1.6 Mbit/s, 150 ms, a fourth of the processor, against a page ${says}`,
        ours: ours.toFixed(0),
        against: against.toFixed(0),
        ratio: (ours / against).toFixed(2),
        wanted: "at most 1.15",
      }
    }
    const most = (all: Look[]) => Math.max(...all.map((l) => l.shift)).toFixed(4)
    return [
      largest("still", "that doesn't move either"),
      largest("swaps", "whose typefaces come in later"),
      {
        what: "layout shift, against the page whose typefaces come in later",
        ours: most(looks.ours),
        against: most(looks.swaps),
        wanted: "0",
      },
      {
        what: "everything that came, KB",
        ours: (of(looks.ours, "bytes") / 1024).toFixed(0),
        against: (of(looks.still, "bytes") / 1024).toFixed(0),
        wanted: "nothing",
      },
    ]
  } finally {
    await browser.close()
    still.stop()
    swaps.stop()
    await school.stop()
  }
}

type Look = { readonly largest: number; readonly shift: number; readonly bytes: number }

async function lookAt(browser: Browser, url: string): Promise<Look> {
  const context = await browser.newContext({ viewport: { width: 360, height: 740 } })
  const page = await context.newPage()
  const cdp = await context.newCDPSession(page)
  await cdp.send("Network.enable")
  const mbit = 1e6 / 8
  await cdp.send("Network.emulateNetworkConditions", {
    offline: false,
    latency: 150,
    downloadThroughput: 1.6 * mbit,
    uploadThroughput: 0.75 * mbit,
  })
  await cdp.send("Emulation.setCPUThrottlingRate", { rate: 4 })
  let bytes = 0
  cdp.on("Network.loadingFinished", (e) => {
    bytes += e.encodedDataLength
  })
  await page.goto(url, { waitUntil: "load" })
  await page.waitForTimeout(1_500)
  // The last that was the largest, and all that moved by itself.
  const { largest, shift } = await page.evaluate(
    () =>
      new Promise<{ largest: number; shift: number }>((done) => {
        const found = { largest: 0, shift: 0 }
        new PerformanceObserver((list) => {
          for (const e of list.getEntries()) found.largest = e.startTime
        }).observe({ type: "largest-contentful-paint", buffered: true })
        new PerformanceObserver((list) => {
          for (const e of list.getEntries() as (PerformanceEntry & { value: number })[]) found.shift += e.value
        }).observe({ type: "layout-shift", buffered: true })
        setTimeout(() => done(found), 300)
      }),
  )
  await context.close()
  return { largest, shift, bytes }
}

/** The same words, pictures and typefaces in plain elements, with a style sheet of a few lines. */
async function byHand(
  browser: Browser,
  origin: string,
  display: "optional" | "swap",
): Promise<{ origin: string; stop(): void }> {
  const page = await browser.newPage({ viewport: { width: 360, height: 740 } })
  await page.goto(origin + path)
  const body = await page.evaluate(() =>
    [...document.querySelectorAll<HTMLElement>("main :is(h1,h2,h3,p,li,img,summary,figcaption,a.go)")]
      .filter((e) => !e.querySelector("p,li,h2,img") && !e.parentElement?.closest("p,li,summary,a.go"))
      .map((e, i) => {
        if (e instanceof HTMLImageElement) {
          const [width, height] = [e.getAttribute("width"), e.getAttribute("height")]
          const later = i > 6 ? ' loading="lazy"' : ""
          return `<img src="${e.src.replace(location.origin, "")}" srcset="${e.srcset}" sizes="100vw" width="${width}" height="${height}" alt=""${later}>`
        }
        const tag = e.tagName.toLowerCase() === "summary" ? "h3" : e.tagName.toLowerCase()
        return `<${tag}>${e.textContent}</${tag}>`
      })
      .join("\n"),
  )
  const fonts = await page.evaluate(() =>
    [...document.querySelectorAll<HTMLLinkElement>("link[as=font]")].map((l) => l.getAttribute("href")),
  )
  await page.close()
  const preloads = fonts.map((f) => `<link rel="preload" as="font" type="font/woff2" href="${f}" crossorigin>`).join("")
  const faces = fonts.map((f, i) => `@font-face{font-family:f${i};src:url(${f});font-display:${display}}`).join("")
  const style = `${faces}h1,h2,h3{font-family:f0}body{max-width:40rem;margin:0 auto;padding:1rem;font:18px/1.6 f1,system-ui,sans-serif;background:#fffdf6;color:#20294a}img{max-width:100%;height:auto}h1{font-size:2.5rem;line-height:1.1}a{display:block;padding:1rem;background:#b5341f;color:#fff}`
  const html = brotliCompressSync(
    `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>A Year</title>${preloads}<style>${style}</style></head><body>${body}</body></html>`,
  )
  const server = createServer((req, res) => {
    if (req.url === "/") {
      res.writeHead(200, { "content-type": "text/html; charset=utf-8", "content-encoding": "br" })
      res.end(html)
    } else
      get(origin + req.url, { headers: { accept: req.headers.accept ?? "" } }, (from) => {
        res.writeHead(from.statusCode ?? 500, from.headers)
        from.pipe(res)
      })
  })
  await new Promise<void>((ready) => server.listen(0, "127.0.0.1", () => ready()))
  return {
    origin: `http://127.0.0.1:${(server.address() as { port: number }).port}`,
    stop: () => server.close(),
  }
}
