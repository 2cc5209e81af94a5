// A link within the application. It asks for nothing before it is pressed: a list has many, and each view is made anew.
import NextLink from "next/link"
import type { ComponentProps } from "react"

export function Link(props: ComponentProps<typeof NextLink>) {
  return <NextLink prefetch={false} {...props} />
}

type Words = Omit<ComponentProps<typeof NextLink>, "className">

/** A link among words. */
export const TextLink = (props: Words) => <Link className="text-slate underline" {...props} />

/** The name of a thing, which leads to it. */
export const NameLink = (props: Words) => <Link className="text-slate hover:underline" {...props} />

/** The way back to the list that a thing stands in, above its heading. */
export function Back({ children, ...rest }: Words) {
  return (
    <p className="text-note">
      <NameLink {...rest}>‹ {children}</NameLink>
    </p>
  )
}
