"use client"

import { useState } from "react"
import { Button } from "./button"
import { Dialog } from "./dialog"

/** A link as a QR code: looked at, and downloaded as a drawing for print. `drawnAt`: the route that draws it. */
export function QrButton({ url, drawnAt }: { url: string; drawnAt: string }) {
  const [open, setOpen] = useState(false)
  const src = `${drawnAt}?of=${encodeURIComponent(url)}`
  return (
    <>
      <Button aria-label={`QR code of ${url}`} onClick={() => setOpen(true)}>
        QR code
      </Button>
      <Dialog open={open} onOpenChange={setOpen} title="QR code">
        <img src={src} alt={`QR code of ${url}`} className="mx-auto w-64" width={256} height={256} />
        <p className="mt-2 text-center text-note [overflow-wrap:anywhere]">{url}</p>
        <p className="mt-3 text-center">
          <Button asChild>
            <a href={src} download="link.svg">
              Download as SVG
            </a>
          </Button>
        </p>
      </Dialog>
    </>
  )
}
