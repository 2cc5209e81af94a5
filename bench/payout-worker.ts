// A process that writes what is to be written of payouts, to be killed in the middle of it.
import { payouts } from "@/server/affiliate/payout-after"
import { configFromEnvironment } from "@/server/config"
import { closeContext } from "@/server/context"
import { openContext } from "@/server/open"

const s = openContext(configFromEnvironment(process.env), "bench")
await payouts.run(s, "bench")
await closeContext(s)
