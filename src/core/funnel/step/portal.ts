// The end of the river for whoever recommends: their own page in the portal for affiliates.
import * as v from "valibot"
import type { StepModule } from "./kind"

export const portal: StepModule<never, object> = {
  label: "affiliate page",
  outcomes: {},
  entry: false,
  hasPage: false,
  settings: v.object({}),
  refs: () => [],
  stands: "/affiliate",
}
