import { studio, studioSession } from "@/app/guard"
import { accountOf } from "@/server/person/account"
import { ChangePassword, OtherSessions } from "./forms"
import { Mailed } from "./mailed"

export const metadata = { title: "Settings: account" }

export default async function AccountSettings() {
  const session = await studioSession()
  const s = await studio()
  const account = await accountOf(s.db, session.account)
  return (
    <div className="max-w-xl space-y-7">
      <div>
        <h1 className="mt-4">Your account</h1>
        <p className="mt-1">
          {account.name}, {account.email}
        </p>
      </div>
      <ChangePassword byMail={session.byMail} />
      <Mailed comments={account.mailsComments} report={account.mailsReport} />
      <OtherSessions others={account.sessions - 1} />
    </div>
  )
}
