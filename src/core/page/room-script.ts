// What the page of a room does: keeps in step with the server's clock, shows what it leads to, what is asked and what is said.
import { beatEvery } from "../webinar/attendance"
import { words } from "../words/en"
import { locale } from "../words/locale"

/** Further apart than this from where it should be, in seconds, what plays is set right. */
const slack = 1.5

const text = (says: string) => JSON.stringify(says).replaceAll("<", "\\u003c")

export function roomScript(path: string, talks: boolean): string {
  const w = words.webinar
  return `{
const d=document,id=n=>d.getElementById(n),make=(n,t)=>{const x=d.createElement(n);if(t!==undefined)x.textContent=t;return x};
const v=d.querySelector("video"),c=id("count"),o=id("offer"),b=id("sound"),ps=id("polls");
const send=f=>fetch(${text(path)},{method:"POST",body:new URLSearchParams(f)});
let at=0,ph="",base=0;
const two=n=>String(n).padStart(2,"0"),now=()=>base+(performance.now()-at)/1000;
const step=()=>{if(!v||ph!="running")return;const s=now(),l=v.duration,t=l?s%l:s;
if(Math.abs(v.currentTime-t)>${slack})v.currentTime=t;
if(v.paused)v.play().catch(()=>{v.muted=true;b.hidden=false;v.play().catch(()=>{})})};
const beat=async()=>{try{const r=await send({beat:1,...(o.innerHTML?{have:1}:{})});
if(!r.ok)return r.status==409||r.status==404?location.reload():0;
const j=await r.json(),was=ph;at=performance.now();ph=j.phase;base=ph=="before"?j.inMs/1000:j.second||0;
if(ph=="over"||was&&was!=ph)return location.reload();
if(j.offer){o.innerHTML=j.offer;o.hidden=false}step()}catch{}};
setInterval(beat,${beatEvery});
setInterval(()=>{if(ph=="before"){const s=Math.max(0,Math.ceil(base-(performance.now()-at)/1000));
c.textContent=(s>=3600?Math.floor(s/3600)+":":"")+two(Math.floor(s/60)%60)+":"+two(s%60);if(!s)beat()}else step()},1000);
d.addEventListener("visibilitychange",()=>d.hidden||beat());
if(b)b.onclick=()=>{v.muted=false;b.hidden=true;v.play()};
if(v)v.addEventListener("error",()=>setTimeout(()=>v.load(),3000),true);
for(const t of d.querySelectorAll("time"))t.textContent=new Intl.DateTimeFormat("${locale}",{weekday:"long",day:"numeric",month:"long",hour:"2-digit",minute:"2-digit"}).format(new Date(t.dateTime));
const mine={},polls={},draw=p=>{polls[p.id]=p;const my=mine[p.id],f=make("fieldset");f.id="poll"+p.id;f.append(make("legend",p.question));
const all=p.votes.reduce((a,n)=>a+n,0);
p.answers.forEach((a,i)=>{const y=make("button",a);y.type="button";y.dir="auto";y.setAttribute("aria-pressed",my===i);y.disabled=p.closed;
y.onclick=async()=>{const r=await send({poll:p.id,answer:i}).catch(()=>0);if(r&&r.ok){if(mine[p.id]===undefined)p.votes[i]++;else if(mine[p.id]!==i){p.votes[mine[p.id]]--;p.votes[i]++}mine[p.id]=i;draw(p);id("poll"+p.id).querySelectorAll("button")[i].focus()}};
f.append(y);if(my!==undefined||p.closed){const m=make("i");m.style.width=100*p.votes[i]/Math.max(1,all)+"%";f.append(m,make("small",p.votes[i]+${text(w.ofVotes)}+all))}});
const old=id(f.id);old?old.replaceWith(f):ps.prepend(f);ps.hidden=false};
const seen=new Set,es=new EventSource(${text(`${path}/live`)});
es.addEventListener("mine",m=>{Object.assign(mine,JSON.parse(m.data));Object.values(polls).forEach(draw)});
es.addEventListener("poll",m=>draw(JSON.parse(m.data)));
es.addEventListener("turn",()=>beat());
${talks ? talk : ""}beat()}`
}

/** A message that came before is not shown again; what was being written outlives a reload. */
const talk = `const l=id("said"),f=id("say"),w=f.elements.words,q=f.elements.question,e=id("refused");
w.value=sessionStorage.say||"";w.oninput=()=>sessionStorage.say=w.value;
es.onmessage=m=>{if(seen.has(m.lastEventId))return;seen.add(m.lastEventId);const x=JSON.parse(m.data),i=make("li"),n=make("strong",x.mine?${text(words.webinar.you)}:x.name||${text(words.webinar.somebody)}),p=make("span"," "+x.words);n.dir=p.dir="auto";
if(x.host)i.className="host";if(x.question)n.textContent+=" "+(x.mine?${text(words.webinar.ask)}:${text(words.webinar.asks)});
i.append(n,p);l.append(i);const g=l.parentNode;g.scrollTop=g.scrollHeight};
f.onsubmit=async y=>{y.preventDefault();e.textContent="";const r=await send({say:w.value,...(q.checked?{question:1}:{})}).catch(()=>null),j=r&&await r.json().catch(()=>({}));
if(r&&r.ok){w.value=sessionStorage.say="";q.checked=false}else e.textContent=j&&j.refused||${text(words.webinar.notSent)};w.focus()};
`
