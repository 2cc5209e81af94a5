// The demo's sign-in: printed at the start, and offered on the sign-in page of the demo only.
export const demoAccount = { email: "maren@junipercrock.example", password: "brine before breakfast" } as const
