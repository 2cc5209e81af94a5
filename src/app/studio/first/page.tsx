import type { Metadata } from "next"
import { redirect } from "next/navigation"
import { surroundings } from "@/app/door"
import { hasOwner } from "@/server/person/account"
import { DoorStep } from "../sign-in/door-step"
import { OwnerForm } from "../sign-in/forms"

export const metadata: Metadata = { title: "Open the school" }

export default async function FirstPage() {
  if (await hasOwner(surroundings())) redirect("/studio/sign-in")
  return (
    <DoorStep title="Open your school">
      <OwnerForm code={surroundings().config.openingCode !== ""} />
    </DoorStep>
  )
}
