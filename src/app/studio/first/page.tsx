import type { Metadata } from "next"
import { redirect } from "next/navigation"
import { context } from "@/app/guard"
import { hasOwner } from "@/server/person/account"
import { DoorStep } from "../sign-in/door-step"
import { OwnerForm } from "../sign-in/forms"

export const metadata: Metadata = { title: "Open the school" }

export default async function FirstPage() {
  if (await hasOwner(context().db)) redirect("/studio/sign-in")
  return (
    <DoorStep title="Open your school">
      <OwnerForm code={context().config.openingCode !== ""} />
    </DoorStep>
  )
}
