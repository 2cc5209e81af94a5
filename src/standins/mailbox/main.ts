// The mailbox stand-in as a process of its own, as an outside mail server would be.
import { configFromEnvironment } from "@/server/config"
import { reportToken } from "@/server/mail/report"
import { openMailbox } from "./smtp"

const config = configFromEnvironment()
const mailbox = await openMailbox(
  config.mailboxFolder,
  Number(process.env.HERON_SMTP_PORT ?? 0),
  `${config.origin}/hooks/mail/${reportToken(config.secret)}`,
)
process.send?.({ ready: mailbox.port })
for (const signal of ["SIGTERM", "SIGINT"] as const)
  process.on(signal, () => void mailbox.close().then(() => process.exit(0)))
process.on("disconnect", () => process.exit(0))
