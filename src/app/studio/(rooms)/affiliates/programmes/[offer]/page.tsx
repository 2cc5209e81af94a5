import { notFound } from "next/navigation"
import { studio } from "@/app/guard"
import { bonusesOf } from "@/server/affiliate/bonus"
import { invitationPath } from "@/server/affiliate/come"
import { courseNames } from "@/server/course/course-view"
import { mediaNames } from "@/server/media/media-view"
import { loadOffers } from "@/server/offer/offer"
import { segmentChoices } from "@/server/person/segment-view"
import { checkProgramme } from "@/server/programme/check"
import { materialsOf, programmeConditions, programmeOf, programmeStored } from "@/server/programme/programme"
import { livePages } from "@/server/programme/target"
import { schoolZone } from "@/server/school-view"
import { NameLink, TextLink } from "@/ui/link"
import { idOf } from "../../../asked"
import { studioMoment } from "../../../words"
import { Bonuses, Conditions, Invitation, Materials } from "./parts"
import { ProgrammeEditor } from "./programme-editor"

export const metadata = { title: "Programme" }

export default async function ProgrammePage({ params }: { params: Promise<{ offer: string }> }) {
  const s = await studio()
  const id = idOf((await params).offer)
  const offer = (await loadOffers(s.db)).get(id)
  if (!offer) notFound()
  const zone = await schoolZone(s.db)
  const stored = await programmeStored(s.db, id)
  const programme = await programmeOf(s.db, id)
  const version = programme?.conditionsVersion ?? 0
  const conditions = version ? await programmeConditions(s.db, id, version) : undefined
  const pages = await livePages(s.db)
  const findings = programme ? await checkProgramme(s.db, await s.clock.now(), programme) : []
  const media = (await mediaNames(s.db, s.config)).map((m) => ({ id: m.id, name: m.name, kind: m.kind, url: m.url }))
  return (
    <>
      <p className="mt-3 text-note">
        <NameLink href="/studio/affiliates/programmes">‹ Programmes</NameLink>
      </p>
      <h1 className="mt-1 [overflow-wrap:anywhere]">Recommending “{offer.publicName}”</h1>
      {findings.length ? (
        <ul aria-label="What is missing" className="mt-3 rounded-lg border border-amber bg-amber-wash p-3">
          {findings.map((f) => (
            <li key={f.says}>
              {f.says} {f.href ? <TextLink href={f.href}>{f.do}</TextLink> : null}
            </li>
          ))}
        </ul>
      ) : null}
      <div className="mt-4 grid grid-cols-1 gap-x-10 gap-y-8 lg:grid-cols-[minmax(0,1fr)_24rem]">
        <ProgrammeEditor
          key={stored.revision === 0 ? "new" : "there"}
          offer={id}
          stored={stored}
          currency={offer.currency}
          zone={zone}
          pages={pages}
        />
        <div className="space-y-8">
          {programme ? <Invitation link={`${s.config.origin}${invitationPath(s, id)}`} on={programme.on} /> : null}
          <Conditions
            key={version}
            offer={id}
            words={conditions?.words ?? ""}
            says={
              conditions
                ? `Version ${version}, since ${studioMoment(conditions.at, zone)}.`
                : "There are none: nobody is asked to agree to anything."
            }
          />
        </div>
      </div>
      {programme ? (
        <>
          <Materials offer={id} all={await materialsOf(s.db, id)} pages={pages} media={media} />
          <Bonuses
            offer={id}
            all={(await bonusesOf(s.db, id)).filter((b) => b.affiliate === null)}
            courses={(await courseNames(s.db)).map((c) => ({ id: c.id, name: c.title }))}
            lessons={(await segmentChoices(s.db)).lessons}
            files={media.filter((m) => m.kind === "file")}
          />
        </>
      ) : null}
    </>
  )
}
