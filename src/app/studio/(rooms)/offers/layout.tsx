import type { ReactNode } from "react"
import { RoomsWithin } from "../rooms-within"

export default function OffersLayout({ children }: { children: ReactNode }) {
  return (
    <div className="mx-auto max-w-6xl pt-3">
      <RoomsWithin
        label="Within offers"
        rooms={[
          { name: "Offers", href: "/studio/offers" },
          { name: "Coupons", href: "/studio/offers/coupons" },
        ]}
      />
      {children}
    </div>
  )
}
