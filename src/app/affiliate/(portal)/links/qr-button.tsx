"use client"

import { useState } from "react"
import { Button } from "@/ui/button"
import { Dialog } from "@/ui/dialog"

/** A link as a QR code: looked at, and taken away as a drawing for print. */
export function QrButton({ url }: { url: string }) {
  const [open, setOpen] = useState(false)
  const src = `/affiliate/qr?of=${encodeURIComponent(url)}`
  return (
    <>
      <Button aria-label={`QR code of ${url}`} onClick={() => setOpen(true)}>
        QR code
      </Button>
      <Dialog open={open} onOpenChange={setOpen} title="QR code">
        <img src={src} alt={`QR code of ${url}`} className="mx-auto w-64" width={256} height={256} />
        <p className="mt-2 text-center text-[0.9rem] [overflow-wrap:anywhere]">{url}</p>
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
