import { readdirSync, readFileSync } from 'node:fs'
import { expect, test } from '@playwright/test'
import ts from 'typescript'
import { parse, type SFCTemplateBlock } from 'vue/compiler-sfc'
import { untested } from './untested'

// Whoever adds a button or a field tries it in a test, or says that nobody does.

type Node = NonNullable<SFCTemplateBlock['ast']>['children'][number]
const [element, words, expression] = [1, 2, 5] as const // what a node of a template is
const fields = ['TextField', 'SelectField', 'QuantityField']
const controls = new Set([
  ...fields,
  ...['el-button', 'el-checkbox', 'el-input', 'el-select', 'button', 'a', 'RouterLink', 'summary', 'input', 'label'],
])

const inTree = (folder: string, end: string) =>
  readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .filter((name) => name.endsWith(end))
    .map((name) => ({ name, text: readFileSync(`${folder}/${name}`, 'utf8') }))

/** The texts in a piece of TypeScript; of a template the pieces, with … for what comes between. */
function textsIn(code: string, but?: (node: ts.Node) => boolean): string[] {
  const found: string[] = []
  const visit = (node: ts.Node) => {
    if (but?.(node)) return
    if (ts.isStringLiteralLike(node)) found.push(node.text)
    if (ts.isRegularExpressionLiteral(node)) found.push(node.text.replace(/^\/\^?|\$?\/[a-z]*$|\\/g, ''))
    if (ts.isTemplateExpression(node))
      found.push([node.head.text, ...node.templateSpans.map((span) => span.literal.text)].join('…'))
    ts.forEachChild(node, visit)
  }
  visit(ts.createSourceFile('x.ts', code, ts.ScriptTarget.Latest))
  return found
}

/** What is shown, and not what decides about it. */
const shown = (code: string) =>
  textsIn(
    code,
    (node) => ts.isBinaryExpression(node) && /^[!=]==?$/.test(ts.tokenToString(node.operatorToken.kind) ?? ''),
  )

function plain(node: Node): string {
  if (node.type === words) return node.content
  if (node.type === expression) return '…'
  return node.type === element && node.tag !== 'template' ? node.children.map(plain).join('') : ''
}

/** What an attribute says, typed or computed. */
function named(node: Extract<Node, { type: 1 }>, ...attributes: string[]): string[] | undefined {
  for (const p of node.props) {
    if (p.type === 6 && attributes.includes(p.name)) return [p.value?.content ?? '']
    if (p.type === 7 && p.name === 'bind' && p.arg?.type === 4 && attributes.includes(p.arg.content))
      return shown(p.exp!.loc.source)
  }
}

function labelsIn(node: Node): string[] {
  if (node.type !== element) return []
  const below = node.children.flatMap(labelsIn)
  if (!controls.has(node.tag)) return below
  const own = named(node, 'aria-label', 'spoken') ?? named(node, 'label') ?? []
  if (own.length === 0 && !fields.includes(node.tag)) {
    const text = node.children.map(plain).join('').replace(/\s+/g, ' ').trim()
    if (/[a-z]{2}/i.test(text)) own.push(text)
    else for (const child of node.children) if (child.type === expression) own.push(...shown(child.content.loc.source))
  }
  return [...own, ...below]
}

const small = (text: string) => text.toLowerCase().replace(/\s+/g, ' ').trim()
/** What a label says whatever stands in its place holders. */
const parts = (label: string) =>
  small(label)
    .split('…')
    .filter((part) => /[a-z]{2}/.test(part))

const labels = [
  ...new Set(
    inTree('../frontend/src', '.vue').flatMap(({ text }) => {
      const template = parse(text).descriptor.template
      return template?.ast?.children.flatMap(labelsIn) ?? []
    }),
  ),
].filter((label) => parts(label).length > 0)

const texts = [
  ...new Set(
    inTree('.', '.ts')
      .filter(({ name }) => !['untested.ts', 'screenshots.ts', 'measure.ts'].includes(name))
      .flatMap(({ text }) => textsIn(text).map(small)),
  ),
].filter((text) => /[a-z]{2}/.test(text))

/** A test names a label whole, with something in its place holders, or more than half of one of its parts. */
function tested(label: string): boolean {
  const whole = new RegExp(
    `^${small(label)
      .replace(/[\\^$.*+?()[\]{}|]/g, '\\$&')
      .replaceAll('…', '.+')}$`,
  )
  return texts.some(
    (text) => whole.test(text) || parts(label).some((part) => text.length > part.length / 2 && part.includes(text)),
  )
}

test('every control is named in a test, or in the list of those that are in none', () => {
  expect(labels.length).toBeGreaterThan(500)
  expect(labels).toEqual(expect.arrayContaining(['Take it to the bench', 'Weighs up to, g', 'Leave substance … out']))
  expect(labels.filter((label) => !tested(label) && !untested.includes(label))).toEqual([])
})

test('the list of those that are in no test names none that is, and none that is gone', () => {
  expect(untested.filter((label) => !labels.includes(label) || tested(label))).toEqual([])
})
