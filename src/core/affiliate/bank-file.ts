// A payout as a file for the bank: a customer credit transfer initiation, ISO 20022 pain.001.001.09, as the message definition
// and, for euros, the SEPA rulebook's implementation guidelines (EPC132-08) have it. What is written is within the letters
// of bank-letters.ts, so nothing in it needs escaping.
import { decimalOf, type Minor } from "../offer/money"
import { bankText } from "./bank-letters"
import { isSepa } from "./iban"

export type BankAccount = { readonly holder: string; readonly iban: string; readonly bic: string }

export type BankPayment = BankAccount & {
  /** Tells it apart from any other payment of ours, at most 35 characters; the one who is paid sees it. */
  readonly id: string
  readonly amount: Minor
  /** What it is for. */
  readonly says: string
}

export type BankFile = {
  /** Tells the file apart from any other of ours, at most 35 characters. */
  readonly id: string
  readonly currency: string
  /** Instant it was made, ms. */
  readonly madeAt: number
  /** Day on which it is to be paid, YYYY-MM-DD. */
  readonly day: string
  readonly from: BankAccount
  readonly count: number
  /** Sum of all amounts, minor units. */
  readonly sum: Minor
  /** Whether everything in it is euros to accounts within SEPA. */
  readonly sepa: boolean
}

const names = 70
const remittance = 140

export const bankNamespace = "urn:iso:std:iso:20022:tech:xsd:pain.001.001.09"

/** The beginning of the file, up to the first payment. */
export function bankHead(f: BankFile): string {
  const sum = decimalOf(f.sum, f.currency)
  return `<?xml version="1.0" encoding="UTF-8"?>
<Document xmlns="${bankNamespace}"><CstmrCdtTrfInitn>
<GrpHdr><MsgId>${idText(f.id)}</MsgId><CreDtTm>${new Date(f.madeAt).toISOString()}</CreDtTm><NbOfTxs>${f.count}</NbOfTxs><CtrlSum>${sum}</CtrlSum><InitgPty><Nm>${bankText(f.from.holder, names).text}</Nm></InitgPty></GrpHdr>
<PmtInf><PmtInfId>${idText(f.id)}</PmtInfId><PmtMtd>TRF</PmtMtd><BtchBookg>true</BtchBookg><NbOfTxs>${f.count}</NbOfTxs><CtrlSum>${sum}</CtrlSum>${
    f.sepa ? "<PmtTpInf><SvcLvl><Cd>SEPA</Cd></SvcLvl></PmtTpInf>" : ""
  }<ReqdExctnDt><Dt>${f.day}</Dt></ReqdExctnDt><Dbtr><Nm>${bankText(f.from.holder, names).text}</Nm></Dbtr><DbtrAcct><Id><IBAN>${f.from.iban}</IBAN></Id></DbtrAcct><DbtrAgt>${agent(f.from.bic)}</DbtrAgt><ChrgBr>${f.sepa ? "SLEV" : "SHAR"}</ChrgBr>
`
}

export function bankPayment(f: Pick<BankFile, "currency">, p: BankPayment): string {
  return `<CdtTrfTxInf><PmtId><EndToEndId>${idText(p.id)}</EndToEndId></PmtId><Amt><InstdAmt Ccy="${f.currency}">${decimalOf(p.amount, f.currency)}</InstdAmt></Amt>${
    p.bic ? `<CdtrAgt>${agent(p.bic)}</CdtrAgt>` : ""
  }<Cdtr><Nm>${bankText(p.holder, names).text}</Nm></Cdtr><CdtrAcct><Id><IBAN>${p.iban}</IBAN></Id></CdtrAcct><RmtInf><Ustrd>${bankText(p.says, remittance).text}</Ustrd></RmtInf></CdtTrfTxInf>
`
}

export const bankFoot = "</PmtInf></CstmrCdtTrfInitn></Document>\n"

export const isSepaFile = (currency: string, accounts: Iterable<Pick<BankAccount, "iban">>): boolean => {
  if (currency !== "EUR") return false
  for (const a of accounts) if (!isSepa(a.iban)) return false
  return true
}

/** Whether a name or text is written otherwise in the file than it is. */
export const isRewritten = (p: Pick<BankAccount, "holder">) => bankText(p.holder, names).changed

function agent(bic: string): string {
  return `<FinInstnId>${bic ? `<BICFI>${bic}</BICFI>` : "<Othr><Id>NOTPROVIDED</Id></Othr>"}</FinInstnId>`
}

function idText(id: string): string {
  const text = bankText(id, 35).text
  if (text !== id) throw new RangeError(`an identifier that a bank doesn't take: ${id}`)
  return text
}
