// Who is told what happens, and who writes which letter: the one place in which a lower domain reaches a higher one.

import { inviteOnWish } from "./affiliate/come"
import { affiliateApprovedLetter } from "./affiliate/letter/approved"
import { bankChangeLetter } from "./affiliate/letter/bank-change"
import { affiliateInvitedLetter } from "./affiliate/letter/invited"
import { statementLetter } from "./affiliate/letter/statement"
import { countJoin, countSale, followCharges } from "./affiliate/sale"
import { broadcastLetter } from "./broadcast/letter"
import { awaitComing } from "./course/away"
import { giveCertificate } from "./course/certificate"
import { completeParts, takeProgress } from "./course/done"
import { courseOpensLetter } from "./course/letter/course-opens"
import { handInLetter } from "./course/letter/hand-in"
import { lessonOpensLetter } from "./course/letter/lesson-opens"
import { letInLetter } from "./course/letter/let-in"
import { newCommentsLetter } from "./course/letter/new-comments"
import { awaitOpening } from "./course/opening"
import { goOnAfterWebinar, waitForWebinar } from "./funnel/after-webinar"
import { performOnOccasion } from "./funnel/occasion"
import { reachLearningArea } from "./funnel/reach"
import { accessEndedLetter, mendCardLetter } from "./ledger/letter/plan"
import { receiptLetter } from "./ledger/letter/receipt"
import { refundLetter } from "./ledger/letter/refund"
import { addressChangeLetter } from "./mail/letter/address-change"
import { confirmLetter } from "./mail/letter/confirm"
import { studioWayInLetter } from "./mail/letter/studio-way-in"
import { wayInLetter } from "./mail/letter/way-in"
import { reportLetter } from "./numbers/letter/report"
import { followSeat } from "./sequence/follow-seat"
import { sequenceLetter } from "./sequence/letter/sequence"
import { teamNoteLetter } from "./sequence/letter/team-note"
import { afterMails, moveZone, recheck } from "./sequence/run"
import { takeOn } from "./sequence/take-on"
import type { Wiring } from "./tx-context"
import { answerLetter } from "./webinar/letter/answer"
import { seatLetter } from "./webinar/letter/seat"

export const wiring: Wiring = {
  listeners: [
    takeProgress,
    completeParts,
    giveCertificate,
    awaitOpening,
    awaitComing,
    reachLearningArea,
    goOnAfterWebinar,
    waitForWebinar,
    performOnOccasion,
    moveZone,
    followSeat,
    recheck,
    inviteOnWish,
    countJoin,
    countSale,
    followCharges,
  ],
  sequences: { takeOn, afterMails },
  letters: {
    confirm: confirmLetter,
    "way-in": wayInLetter,
    "let-in": letInLetter,
    "lesson-opens": lessonOpensLetter,
    "course-opens": courseOpensLetter,
    "hand-in": handInLetter,
    "address-change": addressChangeLetter,
    "new-comments": newCommentsLetter,
    "studio-way-in": studioWayInLetter,
    seat: seatLetter,
    answer: answerLetter,
    sequence: sequenceLetter,
    broadcast: broadcastLetter,
    "team-note": teamNoteLetter,
    receipt: receiptLetter,
    "mend-card": mendCardLetter,
    "access-ended": accessEndedLetter,
    refund: refundLetter,
    "affiliate-invited": affiliateInvitedLetter,
    "affiliate-approved": affiliateApprovedLetter,
    "bank-change": bankChangeLetter,
    statement: statementLetter,
    report: reportLetter,
  },
}
