// Nobody compares with a kind of step, effect, block, gift or mail outside the folder of those kinds and its twins: what is to
// be known of a kind is asked of its module. Told by the compiler's own types, and in SQL by the words.
import { readFileSync } from "node:fs"
import { join, relative } from "node:path"
import ts from "typescript"
import { expect, it } from "vitest"
import { stepKinds } from "./funnel/step/list"
import { mailKinds } from "./mail/kind/list"
import { giftKinds } from "./offer/gift/list"
import { blockKinds } from "./page/block/list"
import { effectKinds } from "./sequence/effect/list"
import { sequenceStepKinds } from "./sequence/step/list"

/** Where comparing with a kind is at home. */
const homes: Record<string, { readonly kinds: readonly string[]; readonly at: RegExp }> = {
  step: { kinds: Object.keys(stepKinds), at: /core\/funnel\/step\/|front\/step\// },
  effect: { kinds: Object.keys(effectKinds), at: /core\/sequence\/effect\/|server\/sequence\/effect\// },
  block: { kinds: Object.keys(blockKinds), at: /core\/page\/block\/|page-editor\/block\/|front\/part\// },
  gift: { kinds: Object.keys(giftKinds), at: /core\/offer\/gift\// },
  sequenceStep: { kinds: Object.keys(sequenceStepKinds), at: /core\/sequence\/step\// },
  mail: { kinds: Object.keys(mailKinds), at: /core\/mail\/kind\/|\/letter\// },
}

const config = ts.readConfigFile("tsconfig.json", ts.sys.readFile)
const { fileNames, options } = ts.parseJsonConfigFileContent(config.config, ts.sys, process.cwd())
const sources = fileNames.filter((f) => /\/src\//.test(f) && !/\.test\.tsx?$/.test(f))

/** The literals that something of this type can be, or null where it can be anything else. */
function literals(type: ts.Type): string[] | null {
  const parts = (type.isUnion() ? type.types : [type]).filter(
    (t) => !(t.flags & (ts.TypeFlags.Undefined | ts.TypeFlags.Null)),
  )
  return parts.length && parts.every((t) => t.isStringLiteral())
    ? parts.map((t) => (t as ts.StringLiteralType).value)
    : null
}

function homeOf(type: ts.Type, word: string): RegExp | null {
  const words = literals(type)
  if (!words) return null
  const known = Object.values(homes).find(
    (h) => h.kinds.includes(word) && words.length > 1 && words.every((w) => h.kinds.includes(w)),
  )
  return known?.at ?? null
}

it("is compared with only where it is at home", () => {
  const program = ts.createProgram(fileNames, { ...options, noEmit: true, incremental: false })
  const checker = program.getTypeChecker()
  const found: string[] = []
  let compared = 0
  for (const file of sources) {
    const source = program.getSourceFile(file)!
    const say = (node: ts.Node) =>
      `${relative(process.cwd(), file)}:${source.getLineAndCharacterOfPosition(node.getStart()).line + 1} ${node.getText().slice(0, 80)}`
    const look = (node: ts.Node, against: ts.Expression, word: ts.Expression) => {
      if (!ts.isStringLiteralLike(word)) return
      const home = homeOf(checker.getTypeAtLocation(against), word.text)
      if (home) compared++
      if (home && !home.test(file)) found.push(say(node))
    }
    const walk = (node: ts.Node) => {
      if (ts.isBinaryExpression(node) && /^[!=]==?$/.test(node.operatorToken.getText())) {
        look(node, node.left, node.right)
        look(node, node.right, node.left)
      }
      if (ts.isSwitchStatement(node))
        for (const c of node.caseBlock.clauses)
          if (ts.isCaseClause(c)) look(c.expression, node.expression, c.expression)
      ts.forEachChild(node, walk)
    }
    walk(source)
  }
  expect(compared).toBeGreaterThan(3)
  expect(found).toEqual([])
})

it("is not compared with in SQL", () => {
  const words = [homes.step, homes.effect, homes.mail].flatMap((h) => h!.kinds)
  const pattern = new RegExp(`\\bkind\\s*(?:=|<>|IN\\s*\\()\\s*'(?:${words.join("|")}|post)'`)
  const found = sources
    .filter((f) => pattern.test(readFileSync(f, "utf8")))
    .map((f) => relative(process.cwd(), join(f)))
  expect(found).toEqual([])
})
