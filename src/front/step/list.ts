// How the page of each kind of step is answered.
import type { StepKind } from "@/core/funnel/step/list"
import { affiliates } from "./affiliates"
import { checkout } from "./checkout"
import { confirmation } from "./confirmation"
import { further } from "./further"
import { inbox } from "./inbox"
import { optin, postJoin } from "./optin"
import { registration } from "./registration"
import { replay } from "./replay"
import type { FrontStep } from "./step"

const plain: FrontStep = { post: postJoin }

export const frontSteps: Record<StepKind, FrontStep> = {
  optin,
  inbox,
  letter: plain,
  registration,
  confirmation,
  replay,
  sales: plain,
  checkout,
  further,
  welcome: plain,
  learning: plain,
  affiliates,
  portal: plain,
  catalogue: plain,
  waiting: plain,
}
