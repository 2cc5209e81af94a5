// A link within the application. It asks for nothing before it is pressed: a list has many, and each view is made anew.
import NextLink from "next/link"
import type { ComponentProps } from "react"

export function Link(props: ComponentProps<typeof NextLink>) {
  return <NextLink prefetch={false} {...props} />
}
