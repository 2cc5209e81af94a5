import type { Metadata } from "next"
import { learner } from "@/app/guard"
import { SignInForm } from "@/app/learn/sign-in/form"
import { ActForm } from "@/ui/act-form"
import { Button } from "@/ui/button"
import { signInAction, stepOverAction } from "../actions"

export const metadata: Metadata = { title: "Sign in" }

export default async function AffiliateSignIn() {
  const who = await learner()
  return (
    <div className="mx-auto max-w-md">
      <h1>Your affiliate page</h1>
      {who ? (
        <ActForm act={stepOverAction} className="mt-4">
          <p>You are signed in to your courses already.</p>
          <Button type="submit" look="primary" className="mt-2 min-h-11 w-full">
            Go on to my affiliate page
          </Button>
        </ActForm>
      ) : (
        <>
          <p className="mt-2">
            The address and password are those of your courses. Without a password a link by mail does.
          </p>
          <SignInForm to="/affiliate" sign={signInAction} />
        </>
      )}
    </div>
  )
}
