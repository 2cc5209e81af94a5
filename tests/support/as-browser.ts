// Requests of the tests are those of a browser, unless they say otherwise: a program that names itself begins no journey.
export const someBrowser = "Mozilla/5.0 (X11; Linux x86_64; rv:128.0) Gecko/20100101 Firefox/128.0"

const plain = globalThis.fetch
globalThis.fetch = (input, init = {}) => {
  const headers = new Headers(init.headers)
  if (!headers.has("user-agent")) headers.set("user-agent", someBrowser)
  return plain(input, { ...init, headers })
}
