// The page of a webinar's room: what plays, in step with the server's clock, and from its minute on what it leads to.
import { beatEvery } from "../webinar/attendance"
import { words } from "../words/en"
import { momentHtml } from "./dates"
import { escapeHtml as e } from "./html"
import { type Look, looks, styleSheet } from "./style"

export type RoomView = {
  readonly title: string
  readonly host: string
  readonly starts: number
  readonly zone: string
  readonly school: string
  readonly look: Look
  /** Where its beats go. */
  readonly path: string
  readonly chat: "all" | "host" | "off"
  readonly recording: { readonly url: string; readonly type: string } | null
}

/** What a beat is answered with, and the page keeps in step by. `offer`: HTML of what it leads to. */
export type Beat =
  | { readonly phase: "before"; readonly inMs: number }
  | { readonly phase: "running"; readonly second: number; readonly offer: string | null }
  | { readonly phase: "over" }

/** What is said, as it comes, and what is sent. A message that came before is not shown again. */
const talkScript = (path: string) =>
  `{const d=document,l=d.getElementById("said"),f=d.getElementById("say"),w=f.elements.words,q=f.elements.question,e=d.getElementById("refused"),seen=new Set,es=new EventSource("${path}/live");es.onmessage=m=>{if(seen.has(m.lastEventId))return;seen.add(m.lastEventId);const x=JSON.parse(m.data),i=d.createElement("li"),b=d.createElement("strong"),p=d.createElement("span");b.textContent=x.mine?"${words.webinar.you}":x.name||"${words.webinar.somebody}";p.textContent=" "+x.words;p.dir="auto";if(x.host)i.className="host";if(x.question)b.textContent+=" "+(x.mine?"${words.webinar.ask}":"${words.webinar.asks}");i.append(b,p);l.append(i);l.scrollTop=l.scrollHeight};f.onsubmit=async v=>{v.preventDefault();e.textContent="";const r=await fetch("${path}",{method:"POST",body:new URLSearchParams({say:w.value,...(q.checked?{question:"1"}:{})})}).catch(()=>null),j=r&&await r.json().catch(()=>({}));if(r&&r.ok){w.value="";q.checked=false}else e.textContent=j&&j.refused||"${words.webinar.notSent}";w.focus()}}`

const script = (path: string) =>
  `{const d=document,v=d.querySelector("video"),c=d.getElementById("count"),o=d.getElementById("offer"),b=d.getElementById("sound");let at=0,ph="",base=0;const two=n=>String(n).padStart(2,"0"),now=()=>base+(performance.now()-at)/1000,step=()=>{if(v&&ph=="running"){const s=now(),l=v.duration;const t=l?s%l:s;if(Math.abs(v.currentTime-t)>1.5)v.currentTime=t;if(v.paused)v.play().catch(()=>{v.muted=true;b.hidden=false;v.play().catch(()=>{})})}};const beat=async()=>{try{const r=await fetch("${path}",{method:"POST",body:"beat=1",headers:{"content-type":"application/x-www-form-urlencoded"}});if(!r.ok)return r.status==409||r.status==404?location.reload():0;const j=await r.json(),was=ph;at=performance.now();ph=j.phase;base=j.phase=="before"?j.inMs/1000:j.second||0;if(ph=="over"||was=="before"&&ph!="before")return location.reload();if(j.offer&&!o.innerHTML){o.innerHTML=j.offer;o.hidden=false}step()}catch{}};setInterval(beat,${beatEvery});setInterval(()=>{if(ph=="before"){const s=Math.max(0,Math.ceil(base-(performance.now()-at)/1000));c.textContent=(s>=3600?Math.floor(s/3600)+":":"")+two(Math.floor(s/60)%60)+":"+two(s%60);if(!s)beat()}else step()},1000);d.addEventListener("visibilitychange",()=>d.hidden||beat());if(b)b.onclick=()=>{v.muted=false;b.hidden=true;v.play()};beat();for(const t of d.querySelectorAll("time"))t.textContent=new Intl.DateTimeFormat("en-GB",{weekday:"long",day:"numeric",month:"long",hour:"2-digit",minute:"2-digit"}).format(new Date(t.dateTime))}`

export function roomPage(v: RoomView, running: boolean): { html: string; style: string; script: string } {
  const style = `${styleSheet(v.look)}\nvideo{width:100%;background:#000;display:block}#count{font-size:3rem;font-variant-numeric:tabular-nums;text-align:center;margin:1rem 0}#said{list-style:none;padding:0;max-height:16rem;overflow:auto}#said li{padding:.35rem 0;border-top:1px solid ${looks[v.look].line};margin:0}#said .host{font-weight:600}#offer{border-top:1px solid ${looks[v.look].line};margin-top:1.5rem;padding-top:1rem}`
  const w = words.webinar
  const talks = v.chat !== "off"
  const js = script(v.path) + (talks ? talkScript(v.path) : "")
  const talk = talks
    ? `<section aria-label="${e(w.chat)}"><h2>${e(w.chat)}</h2>${v.chat === "host" ? `<p class="small">${e(w.onlyHost)}</p>` : ""}<ol id="said" role="log" tabindex="0" aria-label="${e(w.said)}"></ol><form id="say"><label for="words">${e(w.saySomething)}</label><input id="words" name="words" maxlength="500" autocomplete="off" required><label class="pick"><input type="checkbox" name="question"> ${e(w.isQuestion)}</label><p id="refused" role="status"></p><button class="go">${e(w.send)}</button></form></section>`
    : ""
  const stage = running
    ? v.recording
      ? `<video playsinline preload="auto" disablepictureinpicture><source src="${e(v.recording.url)}" type="${e(v.recording.type)}"></video><button class="go" id="sound" hidden>${e(w.soundOn)}</button>`
      : `<p class="section tinted">${e(w.noRecording)}</p>`
    : `<p>${e(w.beginsAt)} ${momentHtml(v.starts, v.zone)}</p><p id="count" role="timer"></p>`
  const html =
    `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1"><meta name="robots" content="noindex"><meta name="referrer" content="no-referrer"><link rel="icon" href="data:,"><title>${e(v.title)}</title><style>${style}</style></head>` +
    `<body><main><h1 dir="auto">${e(v.title)}</h1>${v.host ? `<p>${e(w.with(v.host))}</p>` : ""}${stage}<div id="offer" aria-live="polite" hidden></div>${talk}<noscript><p>${e(w.needsScript)}</p></noscript></main><footer dir="auto">${e(v.school)}</footer><script>${js}</script></body></html>`
  return { html, style, script: js }
}
