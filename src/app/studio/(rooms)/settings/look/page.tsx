import { studio } from "@/app/guard"
import { pagesToWear } from "@/server/funnel/look-view"
import { readLook, wornBefore } from "@/server/look"
import { mediaNames } from "@/server/media/media-view"
import { LookForm } from "./look-form"

export const metadata = { title: "Look" }

export default async function LookPage() {
  const s = await studio()
  const media = await mediaNames(s.db, s.config)
  const now = await readLook(s.db)
  return (
    <div className="wide">
      <h1 className="mt-4">Look</h1>
      <LookForm
        key={JSON.stringify(now)}
        now={now}
        before={await wornBefore(s.db)}
        pages={await pagesToWear(s.db)}
        pictures={media.filter((m) => m.kind === "picture")}
      />
    </div>
  )
}
