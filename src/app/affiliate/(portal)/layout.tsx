import type { ReactNode } from "react"
import { affiliateHere } from "@/app/guard"
import { Tabs } from "@/ui/tabs"

export default async function PortalLayout({ children }: { children: ReactNode }) {
  const a = await affiliateHere()
  if (a.state === "asked")
    return (
      <>
        <h1>You have asked to join</h1>
        <p className="mt-2">You hear by e-mail as soon as you can begin.</p>
      </>
    )
  const ended = a.state === "ended"
  return (
    <>
      <Tabs
        label="Your affiliate page"
        tabs={[
          { name: "Overview", href: "/affiliate", only: true },
          ...(ended
            ? []
            : [
                { name: "Links", href: "/affiliate/links" },
                { name: "Materials", href: "/affiliate/words" },
              ]),
          { name: "Paid", href: "/affiliate/paid" },
        ]}
      />
      {ended ? (
        <p role="status" className="mt-4 font-semibold">
          You are no affiliate any more: nothing new counts for you. What you have earned until then is paid to the
          account that you say under Account.
        </p>
      ) : null}
      <div className="mt-5">{children}</div>
    </>
  )
}
