// What there is to know of a kind of mail before any is written.

export type MailFacts = {
  /** As the studio's list names it, where it has no subject yet. */
  readonly label: string
  /**
   * Whether its reader asked for it: by a form, an order, a press. What was asked for goes also to whoever has left the
   * e-mails, and goes out again after a crash, under the same Message-ID. Anything else does neither.
   */
  readonly asked: boolean
  /** Whether its link signs its reader in to what they were let into. */
  readonly letsIn?: true
  readonly about: "join" | "person" | "account" | "order" | "plan" | "refund" | "sequence"
}
