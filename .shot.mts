import { chromium } from "playwright-core"
const [base, ...jobs] = process.argv.slice(2)
const b = await chromium.launch({ executablePath: "/usr/bin/chromium", args: ["--no-sandbox","--disable-gpu","--disable-background-networking","--disable-component-update","--disable-sync"] })
const desk = await b.newContext({ viewport: { width: 1280, height: 800 } })
const phone = await b.newContext({ viewport: { width: 360, height: 740 }, deviceScaleFactor: 1 })
const p = await desk.newPage()
p.on("console", m => m.type() === "error" && console.log("console:", m.text().slice(0, 300)))
p.on("pageerror", e => console.log("pageerror:", e.message.slice(0, 300)))
await p.goto(base + "/studio/sign-in"); await p.getByRole("button", { name: /Sign in as/ }).click(); await p.waitForURL(base + "/studio")
for (const j of jobs) {
  const [name, path, kind, key] = j.split("|")
  const pg = kind === "phone" ? await phone.newPage() : p
  await pg.goto(base + path); await pg.waitForTimeout(900)
  if (key) for (const k of key.split(",")) { await pg.keyboard.press(k); await pg.waitForTimeout(400) }
  await pg.screenshot({ path: `/tmp/shots/${name}.png` })
}
await b.close()
