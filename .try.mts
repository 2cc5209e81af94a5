import { chromium } from "playwright-core"
const b = await chromium.launch({executablePath:"/usr/bin/chromium",args:["--no-sandbox","--disable-gpu"]})
const c = await b.newContext({viewport:{width:1280,height:800}})
const p = await c.newPage()
const o="http://localhost:4700"
await p.goto(o+"/studio/sign-in")
await p.getByLabel("E-mail address", { exact: true }).fill("maren@junipercrock.example")
await p.getByLabel("Password").fill("brine before breakfast")
await p.getByRole("button", { name: "Sign in", exact: true }).click()
await p.waitForURL(o+"/studio")
await p.goto(o+"/studio/settings/media?kind=video"); await p.waitForTimeout(500)
await p.getByRole("link",{name:/\.mp4/}).last().click(); await p.waitForURL(/media\/\d/); await p.waitForTimeout(800)
await p.screenshot({path:"/tmp/shots/film.png"})
await b.close()
