// A sign-up page for affiliates: the conditions are those of the moment.

import { recruitsFor } from "@/core/funnel/step/list"
import { conditionsHtml } from "@/core/page/conditions"
import { programmeConditions, programmeOf } from "@/server/programme/programme"
import { releaseById } from "@/server/releases"
import type { LivePage } from "../live"
import type { OwnParts } from "../part/list"
import { renderPage } from "../render-page"
import type { Front } from "../reply"
import { postJoin, typedIn } from "./optin"
import type { FrontStep } from "./step"

export const affiliates: FrontStep = {
  look: async (front, req, page) => renderPage(front, req, page, 200, await conditions(front, page)),
  async post(front, req, page, visitor, fields) {
    const shown = await conditions(front, page)
    return postJoin(front, req, page, visitor, fields, (says) =>
      renderPage(front, req, page, 422, shown, { error: says, ...typedIn(fields) }),
    )
  },
}

async function conditions(front: Front, page: LivePage): Promise<OwnParts> {
  const { db } = front.s
  const step = (await releaseById(db, page.release))?.funnel.steps.find((x) => x.id === page.step)
  const offer = step ? recruitsFor(step) : null
  const p = offer === null ? undefined : await programmeOf(db, offer)
  const words = p?.conditionsVersion ? await programmeConditions(db, p.offer, p.conditionsVersion) : undefined
  return { conditions: () => conditionsHtml(p?.conditionsVersion ?? 0, words?.words ?? "") }
}
