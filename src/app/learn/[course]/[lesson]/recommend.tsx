import { Join } from "@/app/affiliate/programmes/join"
import { ReadyToUse } from "@/app/affiliate/ready-to-use"
import type { Recommending } from "@/server/affiliate/recommend"
import { CopyButton } from "@/ui/copy-button"
import { joinToRecommendAction } from "../../actions"

/** Recommend it: the learner's own link, words and pictures, without leaving the lesson; or one press to get them. */
export function Recommend({ asks, r }: { asks: string; r: Recommending }) {
  return (
    <section aria-label={`Recommend “${r.name}”`} className="rounded-lg border border-line bg-card p-4">
      <h2 className="text-xl">{asks || `Recommend “${r.name}”`}</h2>
      <p className="mt-1">You get {r.says.charAt(0).toLowerCase() + r.says.slice(1)}</p>
      {r.stands === "recommends" && r.link ? (
        <>
          <p className="mt-3 font-semibold">Your link</p>
          <p className="mt-1 flex flex-wrap items-center gap-2">
            <code className="min-w-0 flex-1 basis-52 text-body [overflow-wrap:anywhere]">{r.link}</code>
            <CopyButton text={r.link} label="Copy your link" />
          </p>
          {r.ready.length ? (
            <details className="mt-3">
              <summary className="cursor-pointer text-slate">Words and pictures ready to use</summary>
              <ReadyToUse all={r.ready} />
            </details>
          ) : null}
          <p className="mt-3 text-body">
            <a className="text-slate underline" href="/affiliate/sign-in">
              Your affiliate page
            </a>
            : what your link does, what you earn, and where you are paid.
          </p>
        </>
      ) : r.stands === "asked" ? (
        <p className="mt-2 font-semibold">You have asked to join. You hear by e-mail as soon as you can begin.</p>
      ) : r.stands === "stranger" ? (
        <p className="mt-2">
          <a className="text-slate underline" href="/learn/sign-in">
            Sign in by a mailed link
          </a>{" "}
          to get a link of your own.
        </p>
      ) : (
        <>
          {r.about ? <p className="mt-2 whitespace-pre-line">{r.about}</p> : null}
          <Join
            offer={r.offer}
            name={r.name}
            version={r.version}
            conditions={r.conditions}
            agreed={false}
            approved={r.atOnce}
            join={joinToRecommendAction}
          />
        </>
      )}
    </section>
  )
}
