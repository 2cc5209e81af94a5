// A process that writes what is to be written of payouts, to be killed in the middle of it.
import { payouts } from "@/server/affiliate/payout-after"
import { configFromEnvironment } from "@/server/config"
import { openSurroundings } from "@/server/open"
import { closeSurroundings } from "@/server/surroundings"

const s = openSurroundings(configFromEnvironment(process.env), "bench")
await payouts.run(s, "bench")
await closeSurroundings(s)
