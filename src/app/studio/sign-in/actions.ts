"use server"

import { redirect } from "next/navigation"
import { addressOfCaller, context, dropSession, keepSession, tokenOf } from "@/app/guard"
import { askStudioLink, makeOwner, signIn } from "@/server/person/account"
import { endSession } from "@/server/person/session"

export type SignInState = {
  readonly refused?: string
  readonly field?: string
  readonly email?: string
  readonly school?: string
  readonly name?: string
}

const text = (form: FormData, name: string) => String(form.get(name) ?? "").slice(0, 400)

export async function signInAction(_: SignInState, form: FormData): Promise<SignInState> {
  const email = text(form, "email")
  const done = await signIn(context(), { email, password: text(form, "password"), ip: await addressOfCaller() })
  if ("refused" in done) return { refused: done.refused, email }
  await keepSession("studio", done.session)
  redirect("/studio")
}

export async function makeOwnerAction(_: SignInState, form: FormData): Promise<SignInState> {
  const typed = { school: text(form, "school"), name: text(form, "name"), email: text(form, "email") }
  const secret = { password: text(form, "password"), code: text(form, "code") }
  const done = await makeOwner(context(), { ...typed, ...secret }, text(form, "zone"))
  if ("refused" in done) return { ...typed, refused: done.refused, field: done.field }
  await keepSession("studio", done.session)
  redirect("/studio")
}

export type LinkState = { readonly asked?: string; readonly refused?: string }

export async function askLinkAction(_: LinkState, form: FormData): Promise<LinkState> {
  const email = text(form, "email")
  const done = await askStudioLink(context(), email, await addressOfCaller())
  return "refused" in done ? { refused: done.refused } : { asked: email }
}

export async function signOutAction(): Promise<void> {
  const token = await tokenOf("studio")
  if (token) await endSession(context().db, token)
  await dropSession("studio")
  redirect("/studio/sign-in")
}
