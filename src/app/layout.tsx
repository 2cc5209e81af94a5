import "@fontsource-variable/bricolage-grotesque"
import "@fontsource-variable/public-sans"
import type { Metadata, Viewport } from "next"
import type { ReactNode } from "react"
import "./globals.css"

export const metadata: Metadata = {
  title: { default: "Swift Heron", template: "%s · Swift Heron" },
  robots: { index: false },
}
/** Every screen depends on who looks at it and on the database. */
export const dynamic = "force-dynamic"
export const viewport: Viewport = { width: "device-width", initialScale: 1 }

export default function RootLayout({ children }: { children: ReactNode }) {
  return (
    <html lang="en">
      <body>{children}</body>
    </html>
  )
}
