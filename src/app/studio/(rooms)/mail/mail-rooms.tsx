import { RoomsWithin } from "../rooms-within"

/** The rooms of mail. */
export function MailRooms() {
  return (
    <div className="mt-2">
      <RoomsWithin
        label="Mail"
        rooms={[
          { name: "What works", href: "/studio/mail", only: true },
          { name: "Due and sent", href: "/studio/mail/due" },
          { name: "Sequences", href: "/studio/mail/sequences" },
          { name: "Broadcasts", href: "/studio/mail/broadcasts" },
          { name: "Delivery", href: "/studio/mail/delivery" },
          { name: "Quiet hours and limits", href: "/studio/mail/quiet-hours" },
        ]}
      />
    </div>
  )
}
