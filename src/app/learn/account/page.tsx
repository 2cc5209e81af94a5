import Bowser from "bowser"
import type { Metadata } from "next"
import { redirect } from "next/navigation"
import { stepOverAction } from "@/app/affiliate/actions"
import { admitted, context, tokenOf } from "@/app/guard"
import { locale } from "@/core/words/locale"
import { affiliateOf } from "@/server/affiliate/affiliate"
import { namesAreShown } from "@/server/course/figures"
import { changeAsked } from "@/server/person/address-change"
import { learnerAccount } from "@/server/person/learner"
import { devicesOf } from "@/server/person/session"
import { ActForm } from "@/ui/act-form"
import { Button } from "@/ui/button"
import { endDeviceAction, showNameAction } from "../actions"
import { AnotherAddress } from "./another-address"
import { SetPassword } from "./set-password"

export const metadata: Metadata = { title: "Your account" }

export default async function AccountPage() {
  const who = await admitted()
  if (who === null) redirect("/learn/sign-in?to=/learn/account")
  if (who.scope !== null)
    return (
      <>
        <h1>Your account</h1>
        <p className="mt-3">
          This device knows you by an order only.{" "}
          <a className="text-slate underline" href="/learn/sign-in?to=/learn/account">
            Have a link mailed to you
          </a>
          , and your account is here.
        </p>
      </>
    )
  const s = context()
  const token = (await tokenOf("learn")) ?? ""
  const account = await learnerAccount(s, who, token)
  if (!account) redirect("/learn")
  const devices = await devicesOf(s.db, who.person, token)
  return (
    <>
      <h1>Your account</h1>
      <p className="mt-1 [overflow-wrap:anywhere]">
        {account.name ? `${account.name}, ` : ""}
        {account.email}
      </p>
      <SetPassword has={account.hasPassword} asks={account.hasPassword && !account.byMail} email={account.email} />
      <AnotherAddress pending={await changeAsked(s, who.person)} />
      {account.nameShown || (await namesAreShown(s.db)) ? (
        <ActForm act={showNameAction} className="mt-8 border-t border-line pt-6">
          <h2 className="text-xl">Your first name on pages</h2>
          <p className="mt-1">
            {account.nameShown
              ? "Pages about your courses may say your first name, as one of those who joined lately."
              : "Pages don’t say your name."}
          </p>
          <input type="hidden" name="shown" value={account.nameShown ? "0" : "1"} />
          <Button type="submit" className="mt-2 min-h-11">
            {account.nameShown ? "No longer say it" : "Let them say it"}
          </Button>
        </ActForm>
      ) : null}
      {(await affiliateOf(s.db, who.person)) ? (
        <ActForm act={stepOverAction} className="mt-8 border-t border-line pt-6">
          <h2 className="text-xl">Your affiliate page</h2>
          <p className="mt-1">Your links, what they bring, and where you are paid.</p>
          <Button type="submit" className="mt-2 min-h-11">
            Go there
          </Button>
        </ActForm>
      ) : null}
      <section aria-label="Devices" className="mt-8 border-t border-line pt-6">
        <h2 className="text-xl">Where you are signed in</h2>
        <ul className="mt-2">
          {devices.map((d) => (
            <li key={d.id} className="flex items-center justify-between gap-3 border-t border-line py-2 first:border-0">
              <span className="min-w-0">
                {nameOf(d.agent)}
                <span className="block text-body text-soft">
                  {d.here ? "This device" : `Last here on ${day(d.seenAt ?? d.madeAt)}`}
                </span>
              </span>
              {d.here ? null : (
                <ActForm act={endDeviceAction}>
                  <input type="hidden" name="device" value={d.id} />
                  <Button type="submit" look="danger">
                    Sign it out
                  </Button>
                </ActForm>
              )}
            </li>
          ))}
        </ul>
        {devices.length > 2 ? (
          <ActForm act={endDeviceAction} className="mt-3">
            <Button type="submit">Sign out everywhere else</Button>
          </ActForm>
        ) : null}
      </section>
    </>
  )
}

const day = (at: Date) => new Intl.DateTimeFormat(locale, { day: "numeric", month: "long" }).format(at)

/** A browser by the name that its user knows. */
function nameOf(agent: string | null): string {
  if (!agent) return "A browser"
  const read = Bowser.getParser(agent)
  const [browser, system] = [read.getBrowserName(), read.getOSName()]
  if (!browser) return "A browser"
  return system ? `${browser} on ${system}` : browser
}
