// Made from the migrations by tests/server/rows.test.ts, which fails when this is stale; not to be written by hand.
// What is open need not be given when a row is written; what is made comes from the database itself.

export type Tables = {
  account: {
    row: { id: number; email: string; name: string; password_hash: string; made_at: Date; mails_comments: 0 | 1;
      mails_report: 0 | 1; }
    open: "id" | "mails_comments" | "mails_report"
  }
  address: {
    row: { id: number; person_id: number; email: string; canonical: string; confirmed_at: Date | null;
      suppressed: "left" | "undeliverable" | null; suppressed_at: Date | null; suppressed_why: string | null;
      soft_bounces: number; }
    open: "id" | "confirmed_at" | "suppressed" | "suppressed_at" | "suppressed_why" | "soft_bounces"
  }
  address_change: {
    row: { id: number; person_id: number; email: string; canonical: string; old_email: string; expires_at: Date;
      old_pressed_at: Date | null; new_pressed_at: Date | null; done_at: Date | null; }
    open: "id" | "old_pressed_at" | "new_pressed_at" | "done_at"
  }
  admission: {
    row: { id: number; person_id: number; course_id: number | null; origin: string; from_at: Date;
      until_at: Date | null; media_id: number | null; order_id: number | null; module_id: number | null;
      of_module: number | null; lesson_id: number | null; of_lesson: number | null; }
    open: "id" | "course_id" | "until_at" | "media_id" | "order_id" | "module_id" | "lesson_id"
    made: "of_module" | "of_lesson"
  }
  affiliate: {
    row: { id: number; person_id: number | null; state: "invited" | "asked" | "active" | "ended"; code: string;
      public_name: string; shown: 0 | 1; brought_by_id: number | null; asked_at: Date; since: Date | null;
      ended_at: Date | null; source: string; holder: string; iban: string; bic: string; postal: string;
      tax_number: string; bank_at: Date | null; wanted_name: string | null; }
    open: "id" | "person_id" | "shown" | "brought_by_id" | "since" | "ended_at" | "holder" | "iban" | "bic"
      | "postal" | "tax_number" | "bank_at" | "wanted_name"
  }
  affiliate_in: {
    row: { affiliate_id: number; offer_id: number; rate: string | null; agreed_version: number;
      agreed_at: Date | null; waits: 0 | 1; }
    open: "rate" | "agreed_version" | "agreed_at" | "waits"
  }
  affiliate_join: {
    row: { person_id: number; affiliate_id: number; sub: string; at: Date; }
    open: "sub"
  }
  affiliate_link: {
    row: { id: number; affiliate_id: number; step_id: number | null; offer_id: number | null; sub: string;
      made_at: Date; }
    open: "id" | "step_id" | "offer_id" | "sub"
  }
  affiliate_rules: {
    row: { id: number; mention_days: number; which: "last" | "first"; consent: "not-needed" | "asked";
      due_days: number; least: number; pay_days: string; with_tax: 0 | 1; holder: string; iban: string; bic: string;
      note_prefix: string; changes: number; }
    open: "mention_days" | "which" | "consent" | "due_days" | "least" | "pay_days" | "with_tax" | "holder" | "iban"
      | "bic" | "note_prefix" | "changes"
  }
  answer: {
    row: { order_id: number; step_id: number; said: "accepted" | "declined"; at: Date; }
  }
  attempt: {
    row: { bucket: Buffer; window_start: Date; n: number; }
  }
  bank_change: {
    row: { id: number; affiliate_id: number; holder: string; iban: string; bic: string; postal: string;
      tax_number: string; at: Date; expires_at: Date; done_at: Date | null; }
    open: "id" | "done_at"
  }
  bonus: {
    row: { id: number; offer_id: number; affiliate_id: number | null;
      state: "allowed" | "asked" | "approved" | "refused"; course_id: number | null; lesson_id: number | null;
      media_id: number | null; name: string; at: Date; }
    open: "id" | "affiliate_id" | "course_id" | "lesson_id" | "media_id"
  }
  bonus_chosen: {
    row: { affiliate_id: number; bonus_id: number; }
  }
  broadcast: {
    row: { id: number; name: string; state: "draft" | "planned" | "paused" | "stopped" | "sent"; document: string;
      revision: number; winner: number | null; made_at: Date; planned_at: Date | null; begins_at: Date | null;
      page: string | null; }
    open: "id" | "state" | "revision" | "winner" | "planned_at" | "begins_at" | "page"
  }
  card: {
    row: { id: number; reference: string; last4: string; expires: string; fingerprint: string | null; }
    open: "id" | "fingerprint"
  }
  certificate: {
    row: { id: number; number: string; person_id: number; course_id: number; name: string; title: string; at: Date; }
    open: "id"
  }
  charge: {
    row: { id: number; once: string; order_id: number; plan_id: number | null; n: number;
      state: "sending" | "confirming" | "succeeded" | "refused" | "abandoned"; net: number; tax: number;
      gross: number; currency: string; refunded: number; payment: string | null; reason: string | null;
      confirm: string | null; at: Date; settled_at: Date | null; ask_at: Date; fee: number; }
    open: "id" | "plan_id" | "n" | "refunded" | "payment" | "reason" | "confirm" | "settled_at" | "fee"
  }
  choice: {
    row: { id: number; field_id: number; position: number; says: string; }
    open: "id"
  }
  clock: {
    row: { id: number; offset_ms: number; }
    open: "id" | "offset_ms"
  }
  code_before: {
    row: { code: string; affiliate_id: number; }
  }
  comment: {
    row: { id: number; lesson_id: number; answers_id: number | null; person_id: number | null;
      account_id: number | null; body: string; state: "waiting" | "shown" | "hidden"; at: Date; }
    open: "id" | "answers_id" | "person_id" | "account_id"
  }
  commission: {
    row: { id: number; once: string; kind: "earned" | "back" | "moved" | "written-off"; affiliate_id: number;
      level: number; order_id: number; order_line_id: number | null; charge_id: number; earned_id: number | null;
      move: number; base: number; rate: string; amount: number; currency: string; sub: string; at: Date;
      due_at: Date; }
    open: "id" | "level" | "order_line_id" | "earned_id" | "move" | "rate" | "sub"
  }
  commission_unpaid: {
    row: { commission_id: number; affiliate_id: number; currency: string; due_at: Date; amount: number;
      left_out: string | null; }
    open: "left_out"
  }
  consent: {
    row: { id: number; address_id: number; kind: "given" | "withdrawn"; at: Date; asked_at: Date | null;
      wording: string; ip: string; page: string; }
    open: "id" | "asked_at" | "wording" | "ip" | "page"
  }
  coupon: {
    row: { id: number; code: string; code_key: string; given_out: string; kind: "percent" | "amount"; value: number;
      currency: string | null; on_charges: "first" | "all"; from_at: Date | null; until_at: Date | null;
      uses_in_all: number | null; uses_per_person: number | null; made_at: Date; affiliate_id: number | null; }
    open: "id" | "currency" | "from_at" | "until_at" | "uses_in_all" | "uses_per_person" | "affiliate_id"
  }
  coupon_offer: {
    row: { coupon_id: number; offer_id: number; }
  }
  course: {
    row: { id: number; slug: string; title: string; promise: string; teacher: string; picture_id: number | null;
      state: "draft" | "announced" | "live" | "closed"; made_at: Date; changed_at: Date; revision: number;
      starts: string | null; opens: string; in_order: 0 | 1; done_by: string; open_to_all: 0 | 1; tells: 0 | 1;
      gates: string; certifies: 0 | 1; signing_up: 0 | 1; away_days: number | null; leave_step_id: number | null;
      promises: string; }
    open: "id" | "promise" | "teacher" | "picture_id" | "state" | "revision" | "starts" | "opens" | "in_order"
      | "done_by" | "open_to_all" | "tells" | "gates" | "certifies" | "signing_up" | "away_days" | "leave_step_id"
      | "promises"
  }
  device: {
    row: { visitor: Buffer; person_id: number; proved_at: Date; }
  }
  effect: {
    row: { id: number; step_id: number | null; outcome: string | null; kind: string; settings: string;
      occasion: string | null; on_offer_id: number | null; on_tag_id: number | null; on_lesson_id: number | null;
      on_sequence_id: number | null; on_course_id: number | null; on_module_id: number | null;
      on_field_id: number | null; on_choice_id: number | null; on_coupon_id: number | null;
      on_webinar_id: number | null; }
    open: "id" | "step_id" | "outcome" | "settings" | "occasion" | "on_offer_id" | "on_tag_id" | "on_lesson_id"
      | "on_sequence_id" | "on_course_id" | "on_module_id" | "on_field_id" | "on_choice_id" | "on_coupon_id"
      | "on_webinar_id"
  }
  enrolment: {
    row: { id: number; person_id: number; sequence_id: number; begun_at: Date; ended_at: Date | null;
      ended_why: string | null; run: number; funnel_id: number | null; step: number | null; arrived_at: Date | null;
      due_at: Date | null; listens: 0 | 1; clicked: 0 | 1; }
    open: "id" | "ended_at" | "ended_why" | "run" | "funnel_id" | "step" | "arrived_at" | "due_at" | "listens"
      | "clicked"
  }
  erased: {
    row: { canonical_hash: Buffer; at: Date; }
  }
  fact: {
    row: { id: number; once: Buffer | null; at: Date; recorded_at: Date; kind: string; person_id: number | null;
      funnel_id: number | null; visitor: Buffer | null; step_id: number | null; from_step_id: number | null;
      outcome: string | null; via: "source" | "page" | "mail" | null; source: string | null; begun_at: Date | null;
      subject_id: number | null; words: string | null; money: number; actor: string | null; data: string | null;
      run: number; }
    open: "id" | "once" | "person_id" | "funnel_id" | "visitor" | "step_id" | "from_step_id" | "outcome" | "via"
      | "source" | "begun_at" | "subject_id" | "words" | "money" | "actor" | "data" | "run"
  }
  field: {
    row: { id: number; label: string; kind: "text" | "number" | "date" | "choice" | "yes-no"; made_at: Date;
      former: string; }
    open: "id" | "former"
  }
  flow_change: {
    row: { id: number; funnel_id: number; begun_at: Date; step_id: number; from_step_id: number; outcome: string;
      via: "source" | "page" | "mail"; source: string; money: number; }
    open: "id"
  }
  forecast: {
    row: { funnel_id: number; document: string; changed_at: Date; }
  }
  forecast_made: {
    row: { id: number; funnel_id: number; made_at: Date; first_day: string; days: number; document: string; }
    open: "id"
  }
  funnel: {
    row: { id: number; name: string; made_at: Date; changed_at: Date; live_release_id: number | null;
      again_after: number | null; }
    open: "id" | "live_release_id" | "again_after"
  }
  funnel_before: {
    row: { id: number; funnel_id: number; at: Date; what: string; structure: string; actor: string | null; }
    open: "id" | "actor"
  }
  hand_in: {
    row: { id: number; person_id: number; lesson_id: number; block: string; body: string;
      state: "waiting" | "accepted" | "again"; answer: string; at: Date; answered_at: Date | null;
      media_id: number | null; }
    open: "id" | "answer" | "answered_at" | "media_id"
  }
  heartbeat: {
    row: { name: string; beat_at: Date; note: string; }
    open: "note"
  }
  imported: {
    row: { import_id: number; person_id: number; fresh: 0 | 1; }
  }
  imported_tag: {
    row: { import_id: number; person_id: number; tag_id: number; }
  }
  invitation: {
    row: { id: number; course_id: number | null; module_id: number | null; name: string; most: number | null;
      used: number; until_at: Date | null; days: number | null; made_at: Date; ended_at: Date | null;
      media_id: number | null; }
    open: "id" | "course_id" | "module_id" | "most" | "used" | "until_at" | "days" | "ended_at" | "media_id"
  }
  journal: {
    row: { id: number; once: string; at: Date; order_id: number | null; charge_id: number | null;
      account: "cards" | "income" | "tax" | "refunds" | "fees" | "commission" | "affiliates" | "bank";
      amount: number; currency: string; recorded_at: Date; payout_id: number | null; }
    open: "id" | "order_id" | "charge_id" | "payout_id"
  }
  journal_day: {
    row: { account: "cards" | "income" | "tax" | "refunds" | "fees" | "commission" | "affiliates" | "bank";
      currency: string; day: string; amount: number; }
  }
  journey: {
    row: { funnel_id: number; visitor: Buffer; run: number; person_id: number | null; source: string; begun_at: Date;
      rest_step_id: number; rest_at: Date; paid: number; device: "unknown" | "phone" | "tablet" | "computer"; }
    open: "run" | "person_id" | "paid" | "device"
  }
  kept_quarter: {
    row: { funnel_id: number; currency: string; at: Date; kept: number; }
  }
  kept_section: {
    row: { id: number; name: string; page: string; revision: number; live: string; }
    open: "id" | "revision"
  }
  knock: {
    row: { canonical: string; purpose: string; mailed_at: Date | null; }
    open: "mailed_at"
  }
  legal_page: {
    row: { kind: string; draft: string; revision: number; shown: string | null; shown_at: Date | null; }
    open: "revision" | "shown" | "shown_at"
  }
  lesson: {
    row: { id: number; course_id: number; position: number; title: string; body: string; minutes: number;
      picture_id: number | null; picture_alt: string; video_id: number | null; file_id: number | null;
      state: "draft" | "live" | "removed"; revision: number; module_id: number | null; opens: string | null;
      free: 0 | 1; required: 0 | 1; done_by: string | null; gates: string; page: string | null;
      page_revision: number; comments: "off" | "on" | "moderated"; seconds: number; takes: number | null;
      only_files: 0 | 1; }
    open: "id" | "minutes" | "picture_id" | "picture_alt" | "video_id" | "file_id" | "state" | "revision"
      | "module_id" | "opens" | "free" | "required" | "done_by" | "gates" | "page" | "page_revision" | "comments"
      | "seconds" | "only_files"
    made: "takes"
  }
  lesson_done: {
    row: { person_id: number; lesson_id: number; at: Date; }
  }
  lesson_done_unproved: {
    row: { order_id: number; lesson_id: number; at: Date; }
  }
  lesson_seen: {
    row: { person_id: number; lesson_id: number; at: Date; last_at: Date; }
  }
  live_page: {
    row: { path: string; funnel_id: number; release_id: number; step_id: number; }
  }
  made: {
    row: { once: Buffer; id: number | null; at: Date; }
    open: "id"
  }
  mail: {
    row: { id: number; once: string; kind: string; person_id: number | null; to_email: string; to_name: string;
      funnel_id: number | null; enrolment_id: number | null; sequence_mail_id: number | null;
      pending_join_id: number | null; way_in_id: number | null;
      state: "due" | "sending" | "sent" | "unsure" | "rejected" | "cancelled" | "held"; due_at: Date; try_at: Date;
      tries: number; claimed_by: string | null; message_id: string | null; subject: string | null;
      sent_at: Date | null; trouble: string | null; order_id: number | null; plan_id: number | null;
      refund_id: number | null; studio_way_in_id: number | null; no_answer: 0 | 1; address_change_id: number | null;
      comment_id: number | null; note: string | null; goes: "asked" | "first" | "usual" | "last" | null;
      wanted_at: Date | null; broadcast_id: number | null; variant: number | null; again: 0 | 1;
      opened_at: Date | null; clicked_at: Date | null; left_at: Date | null; bounced_at: Date | null;
      complained_at: Date | null; paced: 0 | 1; registration_id: number | null; not_after: Date | null;
      room_message_id: number | null; payout_to_id: number | null; bank_change_id: number | null;
      offer_id: number | null; course_id: number | null; }
    open: "id" | "person_id" | "to_name" | "funnel_id" | "enrolment_id" | "sequence_mail_id" | "pending_join_id"
      | "way_in_id" | "state" | "tries" | "claimed_by" | "message_id" | "subject" | "sent_at" | "trouble"
      | "order_id" | "plan_id" | "refund_id" | "studio_way_in_id" | "no_answer" | "address_change_id" | "comment_id"
      | "note" | "goes" | "wanted_at" | "broadcast_id" | "variant" | "again" | "opened_at" | "clicked_at" | "left_at"
      | "bounced_at" | "complained_at" | "paced" | "registration_id" | "not_after" | "room_message_id"
      | "payout_to_id" | "bank_change_id" | "offer_id" | "course_id"
  }
  mail_click: {
    row: { mail_id: number; link: number; at: Date; }
  }
  mail_hold: {
    row: { id: number; mail_id: number; from_at: Date; until_at: Date | null; why: string; }
    open: "id" | "until_at"
  }
  mail_pace: {
    row: { domain: string; free_at: Date; tail_at: Date; slowed: number; slowed_at: Date | null; says: string | null; }
    open: "free_at" | "tail_at" | "slowed" | "slowed_at" | "says"
  }
  mail_report: {
    row: { id: number; mail_id: number; kind: "hard" | "soft" | "complaint"; status: string; says: string; at: Date; }
    open: "id" | "status" | "says"
  }
  material: {
    row: { id: number; offer_id: number; position: number; kind: string; title: string; words: string;
      media_id: number | null; step_id: number | null; }
    open: "id" | "words" | "media_id" | "step_id"
  }
  media: {
    row: { id: number; kind: "picture" | "video" | "file" | "handed-in"; type: string; name: string; stored: string;
      size: number; width: number | null; height: number | null; made_at: Date; public: 0 | 1;
      seconds: number | null; person_id: number | null; darkest: string | null; lightest: string | null;
      focus_x: number; focus_y: number; alt: string; narrowed: string | null; narrowing_until: Date | null; }
    open: "id" | "width" | "height" | "public" | "seconds" | "person_id" | "darkest" | "lightest" | "focus_x"
      | "focus_y" | "alt" | "narrowed" | "narrowing_until"
  }
  mention: {
    row: { id: number; once: Buffer; at: Date; affiliate_id: number; sub: string; step_id: number | null;
      visitor: Buffer | null; person_id: number | null; }
    open: "id" | "sub" | "step_id" | "visitor" | "person_id"
  }
  mention_total: {
    row: { affiliate_id: number; sub: string; n: number; last_at: Date; }
  }
  migration: {
    row: { name: string; at: Date; }
  }
  module: {
    row: { id: number; course_id: number; position: number; title: string; opens: string | null;
      removed_at: Date | null; }
    open: "id" | "opens" | "removed_at"
  }
  note: {
    row: { person_id: number; lesson_id: number; body: string; at: Date; }
  }
  note_number: {
    row: { year: number; last: number; }
  }
  notice: {
    row: { id: number; place: "sign-in" | "shelf" | "lesson"; course_id: number | null; title: string; body: string;
      button: string; leads: string; segment: string; from_on: string | null; until_on: string | null;
      most: number | null; live: 0 | 1; revision: number; seen: number; pressed: number; made_at: Date; }
    open: "id" | "course_id" | "body" | "button" | "leads" | "segment" | "from_on" | "until_on" | "most" | "live"
      | "revision" | "seen" | "pressed"
  }
  notice_seen: {
    row: { notice_id: number; person_id: number; times: number; pressed_at: Date | null; }
    open: "times" | "pressed_at"
  }
  offer: {
    row: { id: number; public_name: string; internal_name: string; promise: string; picture_id: number | null;
      currency: string; pieces: number | null; per_person: number | null; from_at: Date | null;
      until_at: Date | null; hidden: 0 | 1; after_failure: "ends" | "stays"; removed_at: Date | null; made_at: Date;
      changed_at: Date; revision: number; refund_days: number | null; }
    open: "id" | "internal_name" | "promise" | "picture_id" | "pieces" | "per_person" | "from_at" | "until_at"
      | "hidden" | "after_failure" | "removed_at" | "revision" | "refund_days"
  }
  offer_gift: {
    row: { id: number; offer_id: number; position: number; kind: string; course_id: number | null;
      media_id: number | null; part_id: number | null; words: string; }
    open: "id" | "course_id" | "media_id" | "part_id" | "words"
  }
  offer_terms: {
    row: { id: number; offer_id: number; position: number; name: string; terms: string; }
    open: "id" | "name"
  }
  opening: {
    row: { person_id: number; course_id: number; since_at: Date; due_at: Date; }
  }
  order_line: {
    row: { id: number; order_id: number; offer_id: number; role: "main" | "bump" | "further"; name: string;
      plan: string; gross: number; posted_at: Date | null; credit: number; shape: Buffer | null; }
    open: "id" | "posted_at" | "credit"
    made: "shape"
  }
  orders: {
    row: { id: number; code: string; once: string; first_id: number | null;
      state: "begun" | "open" | "confirming" | "paid" | "refused" | "lapsed" | "refunded"; funnel_id: number | null;
      release_id: number | null; step_id: number; visitor: Buffer; source: string; person_id: number | null;
      canonical: string; email: string; name: string; postal: string; zone: string; wording: string; ip: string;
      coupon_id: number | null; currency: string; net: number; tax: number; gross: number; sentence: string;
      card_id: number | null; made_at: Date; paid_at: Date | null; hold_until: Date; stopped_at: Date | null;
      mailbox: string | null; test: 0 | 1; }
    open: "id" | "first_id" | "funnel_id" | "release_id" | "source" | "person_id" | "postal" | "wording" | "ip"
      | "coupon_id" | "card_id" | "paid_at" | "stopped_at" | "test"
    made: "mailbox"
  }
  page_before: {
    row: { path: string; funnel_id: number; step_id: number; at: Date; }
  }
  page_open: {
    row: { window_id: string; step_id: number | null; lesson_id: number | null; section_id: number | null;
      mail_id: number | null; broadcast_id: number | null; account_id: number; since: Date; seen_at: Date; }
    open: "step_id" | "lesson_id" | "section_id" | "mail_id" | "broadcast_id"
  }
  page_version: {
    row: { id: number; step_id: number | null; lesson_id: number | null; section_id: number | null;
      mail_id: number | null; broadcast_id: number | null; began_at: Date; at: Date; actor: string | null;
      name: string | null; page: string; }
    open: "id" | "step_id" | "lesson_id" | "section_id" | "mail_id" | "broadcast_id" | "actor" | "name"
  }
  payout: {
    row: { id: number; once: string; state: "made" | "paid" | "undone"; currency: string; until_at: Date;
      day: string; people: number; line_count: number; gross: number; holder: string; iban: string; bic: string;
      made_at: Date; made_by: string | null; paid_at: Date | null; undone_at: Date | null; file_done: number;
      file_at: Date | null; claimed_until: Date | null; tax_rate: number; from_name: string; from_postal: string;
      paid_day: string | null; }
    open: "id" | "holder" | "iban" | "bic" | "made_by" | "paid_at" | "undone_at" | "file_done" | "file_at"
      | "claimed_until" | "tax_rate" | "from_name" | "from_postal" | "paid_day"
  }
  payout_line: {
    row: { commission_id: number; payout_id: number; }
  }
  payout_to: {
    row: { id: number; payout_id: number; affiliate_id: number; net: number; tax: number; gross: number;
      line_count: number; holder: string; iban: string; bic: string; postal: string; tax_number: string;
      note_number: string | null; mailed: 0 | 1; }
    open: "id" | "postal" | "tax_number" | "note_number" | "mailed"
  }
  pending_join: {
    row: { id: number; canonical: string; email: string; name: string; zone: string; wording: string; ip: string;
      page: string; funnel_id: number; release_id: number; step_id: number; inbox_step_id: number; visitor: Buffer;
      asked_at: Date; expires_at: Date; pressed_at: Date | null; answers: string; agreed_version: number;
      waits_course_id: number | null; }
    open: "id" | "pressed_at" | "answers" | "agreed_version" | "waits_course_id"
  }
  person: {
    row: { id: number; name: string; email: string; zone: string; joined_at: Date; source: string; searched: string;
      password_hash: string | null; united_with: number | null; mail_paused_at: Date | null;
      name_shown_at: Date | null; }
    open: "id" | "name" | "email" | "source" | "searched" | "password_hash" | "united_with" | "mail_paused_at"
      | "name_shown_at"
  }
  person_field: {
    row: { person_id: number; field_id: number; value: string; folded: string; number: number | null; at: Date;
      import_id: number | null; }
    open: "number" | "import_id"
  }
  person_import: {
    row: { id: number; name: string; state: "uploaded" | "running" | "done" | "stopped" | "taken-back";
      bytes: number; reading: string; plan: string | null; lines_done: number; fresh: number; known: number;
      refused: number; refused_bytes: number; trouble: string | null; made_at: Date; done_at: Date | null;
      claimed_until: Date | null; }
    open: "id" | "state" | "plan" | "lines_done" | "fresh" | "known" | "refused" | "refused_bytes" | "trouble"
      | "done_at" | "claimed_until"
  }
  person_tag: {
    row: { person_id: number; tag_id: number; at: Date; joined_at: Date; }
  }
  plan: {
    row: { id: number; order_line_id: number; order_id: number; person_id: number; card_id: number | null;
      state: "running" | "behind" | "ended" | "finished"; next_n: number; next_due: Date; try_at: Date;
      failed: number; claimed_until: Date | null; ended_at: Date | null; ended_why: string | null;
      shape: Buffer | null; }
    open: "id" | "card_id" | "failed" | "claimed_until" | "ended_at" | "ended_why" | "shape"
  }
  plan_before: {
    row: { course_id: number; until_at: Date; plan: string; }
  }
  planned_beginning: {
    row: { id: number; sequence_id: number; question: string; due_at: Date; up_to: number; begun: number;
      done_at: Date | null; }
    open: "id" | "up_to" | "begun" | "done_at"
  }
  poll: {
    row: { id: number; date_id: number; plan: number | null; question: string; answers: string; opened_at: Date;
      closed_at: Date | null; }
    open: "id" | "plan" | "closed_at"
  }
  poll_vote: {
    row: { poll_id: number; registration_id: number; answer: number; at: Date; }
  }
  presence: {
    row: { person_id: number; course_id: number; last_at: Date; away_at: Date | null; }
    open: "away_at"
  }
  programme: {
    row: { offer_id: number; is_on: 0 | 1; from_at: Date | null; until_at: Date | null; terms: string; about: string;
      approve: "by-hand" | "at-once"; step_id: number | null; conditions_version: number; revision: number;
      made_at: Date; changed_at: Date; }
    open: "is_on" | "from_at" | "until_at" | "about" | "approve" | "step_id" | "conditions_version" | "revision"
  }
  programme_conditions: {
    row: { offer_id: number; version: number; words: string; at: Date; }
  }
  quiz_try: {
    row: { id: number; person_id: number; lesson_id: number; block: string; n: number; answers: string;
      points: number; of_points: number; passed: 0 | 1; at: Date; }
    open: "id"
  }
  quote: {
    row: { id: number; course_id: number; person_id: number | null; name: string; words: string;
      media_id: number | null; consent: string; state: "new" | "shown" | "not-shown"; at: Date; revision: number; }
    open: "id" | "person_id" | "media_id" | "state" | "revision"
  }
  reference: {
    row: { id: number; funnel_id: number | null; step_id: number | null; block: string | null;
      mail_id: number | null; effect_id: number | null; from_course_id: number | null; from_lesson_id: number | null;
      from_offer_id: number | null; offer_id: number | null; course_id: number | null; lesson_id: number | null;
      media_id: number | null; sequence_id: number | null; tag_id: number | null; to_step_id: number | null;
      say: string; from_notice_id: number | null; from_segment_id: number | null; from_sequence_id: number | null;
      from_broadcast_id: number | null; field_id: number | null; choice_id: number | null;
      from_webinar_id: number | null; webinar_id: number | null; segment_id: number | null;
      teacher_id: number | null; from_section_id: number | null; section_id: number | null; }
    open: "id" | "funnel_id" | "step_id" | "block" | "mail_id" | "effect_id" | "from_course_id" | "from_lesson_id"
      | "from_offer_id" | "offer_id" | "course_id" | "lesson_id" | "media_id" | "sequence_id" | "tag_id"
      | "to_step_id" | "from_notice_id" | "from_segment_id" | "from_sequence_id" | "from_broadcast_id" | "field_id"
      | "choice_id" | "from_webinar_id" | "webinar_id" | "segment_id" | "teacher_id" | "from_section_id"
      | "section_id"
  }
  refund: {
    row: { id: number; once: string; charge_id: number; amount: number; state: "sending" | "done" | "refused";
      access: "stays" | "ends"; why: string; at: Date; try_at: Date; by_bank: 0 | 1; }
    open: "id" | "why" | "by_bank"
  }
  registration: {
    row: { id: number; webinar_id: number; date_id: number; person_id: number | null; pending_join_id: number | null;
      visitor: Buffer | null; state: "held" | "registered" | "given-up" | "called-off"; held_until: Date | null;
      sequence: number; made_at: Date; came: "attended" | "left-early" | "missed" | null; there_ms: number;
      deal_until: Date | null; replay_until: Date | null; saw_offer_at: Date | null; pressed_at: Date | null;
      device: Buffer | null; device_at: Date | null; }
    open: "id" | "person_id" | "pending_join_id" | "visitor" | "held_until" | "sequence" | "came" | "there_ms"
      | "deal_until" | "replay_until" | "saw_offer_at" | "pressed_at" | "device" | "device_at"
  }
  release: {
    row: { id: number; funnel_id: number; number: number; at: Date; snapshot: string; pages: string;
      replaced_at: Date | null; actor: string | null; look: string; }
    open: "id" | "replaced_at" | "actor" | "look"
  }
  rest_change: {
    row: { id: number; funnel_id: number; begun_at: Date; step_id: number; moved: string; n: number; money: number; }
    open: "id"
  }
  rest_day: {
    row: { funnel_id: number; begun: Date; step_id: number; moved: string; n: number; money: number; }
  }
  rest_quarter: {
    row: { funnel_id: number; begun: Date; step_id: number; moved: string; n: number; money: number; }
  }
  river_day: {
    row: { funnel_id: number; quarter: Date; step_id: number; from_step_id: number; outcome: string;
      via: "source" | "page" | "mail"; source: string; n: number; money: number; }
    open: "from_step_id" | "outcome" | "money"
  }
  river_flow: {
    row: { funnel_id: number; quarter: Date; step_id: number; from_step_id: number; outcome: string;
      via: "source" | "page" | "mail"; source: string; n: number; money: number; }
    open: "from_step_id" | "outcome" | "money"
  }
  robot_day: {
    row: { funnel_id: number; day: string; looks: number; }
  }
  rollup_mark: {
    row: { name: string; fact_id: number; }
  }
  room_message: {
    row: { id: number; date_id: number; registration_id: number | null; kind: "chat" | "question"; words: string;
      at: Date; answered_at: Date | null; hidden_at: Date | null; answer: string | null; }
    open: "id" | "registration_id" | "answered_at" | "hidden_at" | "answer"
  }
  sale: {
    row: { order_id: number; affiliate_id: number | null; second_id: number | null; at: Date; sub: string;
      decision: string; place: number; moves: number; moved_why: string; moved_by: string | null;
      moved_at: Date | null; offer_id: number | null; connection: string; }
    open: "affiliate_id" | "second_id" | "sub" | "place" | "moves" | "moved_why" | "moved_by" | "moved_at"
      | "offer_id" | "connection"
  }
  sale_line: {
    row: { order_line_id: number; order_id: number; terms: string; }
  }
  sale_sum: {
    row: { order_id: number; currency: string; affiliate_id: number; at: Date; sub: string; offer_id: number | null;
      net: number; back: number; commission: number; }
    open: "offer_id"
  }
  school: {
    row: { id: number; name: string; sender_name: string; sender_email: string; postal_address: string; zone: string;
      look: string; currency: string; tax_rate: number; tax_included: 0 | 1; statement: string; revision: number;
      gates: string; leave_step_id: number | null; manners: string | null; mail_paused_at: Date | null;
      dkim_made_at: Date | null; spf_include: string; mail_per_second: number | null; mail_per_domain: number | null;
      calendar_address: number; testing: 0 | 1; front_funnel_id: number | null; margin: number; }
    open: "id" | "sender_name" | "sender_email" | "postal_address" | "zone" | "look" | "currency" | "tax_rate"
      | "tax_included" | "statement" | "revision" | "gates" | "leave_step_id" | "manners" | "mail_paused_at"
      | "dkim_made_at" | "spf_include" | "mail_per_second" | "mail_per_domain" | "calendar_address" | "testing"
      | "front_funnel_id" | "margin"
  }
  segment: {
    row: { id: number; name: string; question: string; revision: number; made_at: Date; }
    open: "id" | "question" | "revision"
  }
  sequence: {
    row: { id: number; name: string; state: "draft" | "live" | "paused"; leave_line: string; revision: number;
      flow: string; live_version_id: number | null; goes: "asked" | "first" | "usual" | "last"; from_name: string;
      reply_to: string; }
    open: "id" | "state" | "revision" | "flow" | "live_version_id" | "goes" | "from_name" | "reply_to"
  }
  sequence_mail: {
    row: { id: number; sequence_id: number; subject: string; body: string; button: string; lesson_id: number | null;
      step_id: number | null; revision: number; preview: string; plain: string; page: string | null; }
    open: "id" | "button" | "lesson_id" | "step_id" | "revision" | "preview" | "plain" | "page"
  }
  sequence_version: {
    row: { id: number; sequence_id: number; number: number; at: Date; snapshot: string; actor: string | null; }
    open: "id" | "actor"
  }
  session: {
    row: { token_hash: Buffer; realm: "studio" | "learn" | "affiliate"; account_id: number | null;
      person_id: number | null; made_at: Date; expires_at: Date; scope: string | null; by_mail: 0 | 1;
      agent: string | null; seen_at: Date | null; }
    open: "account_id" | "person_id" | "scope" | "by_mail" | "agent" | "seen_at"
  }
  sold: {
    row: { order_id: number; currency: string; buyer: number; made_at: Date; booked_at: Date; joined: string | null;
      funnel_id: number; begun_at: Date; source: string; device: "unknown" | "phone" | "tablet" | "computer";
      first_funnel_id: number; first_begun_at: Date; first_source: string;
      first_device: "unknown" | "phone" | "tablet" | "computer"; income: number; kept: number; kept_7: number;
      kept_30: number; kept_90: number; }
    open: "joined"
  }
  sold_change: {
    row: { id: number; order_id: number; }
    open: "id"
  }
  sold_day: {
    row: { credit: "made" | "first"; currency: string; funnel_id: number; begun: Date; source: string;
      device: "unknown" | "phone" | "tablet" | "computer"; orders: number; buyers: number; income: number;
      kept: number; squares: number; }
  }
  sold_first: {
    row: { joined: string; days: number; n: number; }
  }
  sold_group: {
    row: { joined: string; currency: string; kept: number; kept_7: number; kept_30: number; kept_90: number; }
  }
  sold_line: {
    row: { line_id: number; first_id: number; offer_id: number; buyer: number; funnel_id: number; begun_at: Date;
      made_at: Date; booked_at: Date; currency: string; income: number; kept: number; }
  }
  sold_order: {
    row: { order_id: number; first_id: number; funnel_id: number; step_id: number; begun_at: Date; made_at: Date;
      currency: string; kept: number; }
  }
  sold_quarter: {
    row: { credit: "made" | "first"; currency: string; funnel_id: number; begun: Date; source: string;
      device: "unknown" | "phone" | "tablet" | "computer"; orders: number; buyers: number; income: number;
      kept: number; squares: number; }
  }
  source_called: {
    row: { source: string; called: string; }
  }
  source_change: {
    row: { id: number; funnel_id: number; begun_at: Date; source: string;
      device: "unknown" | "phone" | "tablet" | "computer"; visited: number; joined: number; bought: number; }
    open: "id" | "device"
  }
  source_cost: {
    row: { source: string; day: string; amount: number; }
  }
  source_day: {
    row: { funnel_id: number; begun: Date; source: string; device: "unknown" | "phone" | "tablet" | "computer";
      visited: number; joined: number; bought: number; }
    open: "device"
  }
  source_quarter: {
    row: { funnel_id: number; begun: Date; source: string; device: "unknown" | "phone" | "tablet" | "computer";
      visited: number; joined: number; bought: number; }
    open: "device"
  }
  stay: {
    row: { registration_id: number; device: Buffer; from_at: Date; to_at: Date; }
  }
  step: {
    row: { id: number; funnel_id: number; kind: string; name: string; path: string; position: number;
      page: string | null; revision: number; settings: string; }
    open: "id" | "path" | "page" | "revision" | "settings"
  }
  stir: {
    row: { person_id: number; at: Date; }
  }
  stream: {
    row: { step_id: number; outcome: string; to_step_id: number | null; }
    open: "to_step_id"
  }
  studio_way_in: {
    row: { id: number; account_id: number; expires_at: Date; used_at: Date | null; }
    open: "id" | "used_at"
  }
  survey_answer: {
    row: { person_id: number; lesson_id: number; block: string; answers: string; at: Date; }
  }
  tag: {
    row: { id: number; name: string; merged_into: number | null; }
    open: "id" | "merged_into"
  }
  tally: {
    row: { what: string; about: number; part: string; n: number; money: number; }
    open: "about" | "part" | "money"
  }
  tally_change: {
    row: { id: number; what: string; about: number; part: string; n: number; money: number; }
    open: "id"
  }
  teacher: {
    row: { id: number; name: string; about: string; media_id: number | null; position: number; revision: number; }
    open: "id" | "media_id" | "revision"
  }
  timer: {
    row: { id: number; once: string; kind: string; about: number; due_at: Date; try_at: Date; tries: number; }
    open: "id" | "tries"
  }
  tracked_link: {
    row: { id: number; step_id: number; source: string; campaign: string; made_at: Date; }
    open: "id" | "campaign"
  }
  united: {
    row: { id: number; person_id: number; other_id: number; at: Date; moved: string; undone_at: Date | null; }
    open: "id" | "undone_at"
  }
  unwanted: {
    row: { person_id: number; what: string; at: Date; }
  }
  waiting: {
    row: { person_id: number; course_id: number; page: string; since_at: Date; told_at: Date | null; }
    open: "told_at"
  }
  way_in: {
    row: { id: number; person_id: number; leads_to: string; expires_at: Date; used_at: Date | null; }
    open: "id" | "used_at"
  }
  webinar: {
    row: { id: number; name: string; document: string; seats: number | null; revision: number;
      dated_until: Date | null; made_at: Date; coupon_id: number | null; }
    open: "id" | "seats" | "revision" | "dated_until" | "coupon_id"
  }
  webinar_date: {
    row: { id: number; webinar_id: number; planned_at: Date; starts_at: Date; minutes: number;
      called_off_at: Date | null; settled_at: Date | null; begun_at: Date | null; ended_at: Date | null;
      offered_at: Date | null; over_at: Date | null; }
    open: "id" | "called_off_at" | "settled_at" | "begun_at" | "ended_at" | "offered_at"
    made: "over_at"
  }
  webinar_offered: {
    row: { webinar_id: number; visitor: Buffer; starts: string; at: Date; }
  }
  worn: {
    row: { id: number; at: Date; look: string; actor: string | null; }
    open: "id" | "actor"
  }
  wrong_password: {
    row: { bucket: Buffer; n: number; last_at: Date; }
  }
}
