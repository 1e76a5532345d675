import { randomUUID } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { execFileSync, spawn, type ChildProcess } from 'node:child_process'
import { expect, test as base, type Browser, type Locator, type Page } from '@playwright/test'

export const password = 'pond-water-week'

/** A database of its own on the test server. */
export class Database {
  private static count = 0
  readonly name = `e2e_${process.pid}_${++Database.count}`
  private readonly server = process.env.VIALBENCH_TEST_DATABASE_URL ?? ''

  constructor() {
    if (!this.server) throw new Error('VIALBENCH_TEST_DATABASE_URL is not set: run make test-browser')
    this.onServer(`CREATE DATABASE ${this.name} TEMPLATE template0`)
  }
  get url(): string {
    return this.server.replace(/\/[^/?]*(\?|$)/, `/${this.name}$1`)
  }
  sql(statement: string): string {
    return execFileSync('psql', ['-qXAt', this.url, '-c', statement]).toString().trim()
  }
  /** Changes what is set up, behind the server’s back but not without telling it. */
  change(statement: string) {
    this.sql(`${statement}; SELECT pg_notify('vialbench', 'setup')`)
  }
  /** Takes the database away from whoever uses it, and gives it back. */
  away(isAway: boolean) {
    this.onServer(`ALTER DATABASE ${this.name} ALLOW_CONNECTIONS ${!isAway}`)
    if (isAway) this.onServer(`SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = '${this.name}'`)
  }
  drop() {
    this.onServer(`DROP DATABASE ${this.name} WITH (FORCE)`)
  }
  private onServer(statement: string) {
    execFileSync('psql', ['-qX', this.server, '-c', statement])
  }
}

/** One server process; url is where it listens. */
export class Server {
  private constructor(
    readonly url: string,
    private readonly said: string,
    private readonly process: ChildProcess,
  ) {}

  static start(command: 'demo' | 'serve', database: Database, address = '127.0.0.1:0'): Promise<Server> {
    const child = spawn('../bin/vialbench', [command], {
      env: { ...process.env, VIALBENCH_DATABASE_URL: database.url, VIALBENCH_ADDR: address },
      stdio: ['ignore', 'pipe', 'inherit'],
    })
    return new Promise((ready, failed) => {
      let said = ''
      child.stdout.on('data', (text: Buffer) => {
        said += text.toString()
        const url = /http:\/\/[\d.]+:\d+/.exec(said)
        if (url && said.includes('Ctrl-C')) ready(new Server(url[0], said, child))
      })
      child.on('exit', (code) => failed(new Error(`the server stopped with ${code}: ${said}`)))
    })
  }
  /** The set-up word, as it was printed where nobody has an account yet. */
  word(): string {
    return /set-up word ([a-z0-9]{8})\n/.exec(this.said)?.[1] ?? ''
  }
  stop(): Promise<void> {
    return new Promise((done) => {
      this.process.removeAllListeners('exit')
      this.process.on('exit', () => done())
      this.process.kill('SIGTERM')
    })
  }
}

interface Lab {
  database: Database
  server: Server
  /** Where the stand-in balance listens. */
  standin: string
  /** Plugs all pH meters and photometers in, or out, so that readings are typed as without a cable. */
  plug(all: boolean): void
}

/** A lab with the sample records, as its people first meet it. */
async function openLab(): Promise<Lab> {
  const database = new Database()
  const server = await Server.start('demo', database)
  // Readings are typed, but for the tests of the connected balance.
  const standin = database.sql("SELECT address FROM balances WHERE name = 'Fern'")
  database.change("UPDATE balances SET address = ''")
  const plugged = ['meters', 'photometers'].map((table) => ({
    table,
    lines: database.sql(`SELECT string_agg(id || ' ' || address, ',') FROM ${table}`).split(','),
  }))
  database.change("UPDATE photometers SET address = ''")
  const plug = (all: boolean) => {
    for (const { table, lines } of plugged)
      for (const [id, address] of lines.map((line) => line.split(' ')))
        database.change(`UPDATE ${table} SET address = '${all ? address : ''}' WHERE id = '${id}'`)
  }
  return { database, server, standin, plug }
}

/** The lab of one file of tests at a time. */
class Labs {
  private file = ''
  private open?: Lab
  async of(file: string): Promise<Lab> {
    if (this.open && file === this.file) return this.open
    await this.close()
    this.file = file
    return (this.open = await openLab())
  }
  async close() {
    await this.open?.server.stop()
    this.open?.database.drop()
    this.open = undefined
  }
}

/** Every test gets a page that fails the test when the console shows an error or a
 * request leaves the origin. The tests of one file share a lab; no other file finds what they leave in it. */
export const test = base.extend<{ lab: Lab; allow: RegExp[]; watched: void }, { labs: Labs }>({
  labs: [
    // eslint-disable-next-line no-empty-pattern -- Playwright wants the pattern
    async ({}, use) => {
      const labs = new Labs()
      await use(labs)
      await labs.close()
    },
    { scope: 'worker' },
  ],
  lab: async ({ labs }, use, { file }) => use(await labs.of(file)),
  baseURL: async ({ lab }, use) => use(lab.server.url),
  /** Console errors that a test provokes. */
  allow: [[], { option: true }],
  watched: [
    async ({ page, baseURL, allow }, use) => {
      const wrong = watch(page, baseURL!)
      pressWhatIsReady(page)
      if (process.env.VIALBENCH_SLOW) await slow(page)
      await use()
      expect(wrong.filter((w) => !allow.some((a) => a.test(w)))).toEqual([])
    },
    { auto: true },
  ],
})
export { expect }

/** Collects console errors, uncaught errors and requests that leave the origin. */
export function watch(page: Page, origin: string): string[] {
  const wrong: string[] = []
  page.on('console', (m) => {
    if (m.text() === 'Service Worker registration blocked by Playwright') return
    if (m.type() === 'error' || m.type() === 'warning') wrong.push(`console: ${m.text()}`)
  })
  page.on('pageerror', (e) => wrong.push(`uncaught: ${e.message}`))
  page.on('request', (r) => {
    if (!r.url().startsWith(origin) && !r.url().startsWith('data:')) wrong.push(`request to ${r.url()}`)
  })
  return wrong
}

let ready = false
/** Nobody presses Enter on a grey button: a key waits until what takes it is enabled, as a click does. */
function pressWhatIsReady(page: Page) {
  if (ready) return
  ready = true
  const locators = Object.getPrototypeOf(page.locator('body')) as Locator
  const press = locators.press
  locators.press = async function (...args) {
    await expect(this).toBeEnabled()
    return press.apply(this, args)
  }
}

/** With VIALBENCH_SLOW set, every answer comes late and the page computes slowly:
 * a test that does not wait for what it needs then fails here, not on a busy day. */
async function slow(page: Page) {
  const session = await page.context().newCDPSession(page)
  await session.send('Emulation.setCPUThrottlingRate', { rate: 4 })
  await page.route('**/api/v1/**', async (route) => {
    if (!route.request().url().endsWith('/events') && !route.request().url().endsWith('/live'))
      await new Promise((resolve) => setTimeout(resolve, 300))
    await route.fallback().catch(() => undefined) // the page may have gone on
  })
}

export async function signIn(page: Page, login = 'ashdown', origin = '') {
  const answer = await page.request.post(`${origin}/api/v1/session`, { data: { login, password } })
  expect(answer.ok()).toBe(true)
}

/** A second person, on a browser and a server process of their own. */
export async function another(browser: Browser, origin: string, login: string): Promise<Page> {
  const context = await browser.newContext({ baseURL: origin })
  const page = await context.newPage()
  await signIn(page, login)
  return page
}

/** Takes potassium hydrogen phthalate, 0.1 mol/L in 250 mL, to the bench. */
export async function begin(page: Page) {
  await page.goto('/standards')
  await expect(page.getByText('5.1056')).toBeVisible()
  await page.getByRole('button', { name: 'Take it to the bench' }).click()
  await expect(page.getByRole('heading', { name: 'Potassium hydrogen phthalate, 0.1000 mol/L' })).toBeVisible()
}

/** Opens what a question keeps folded. */
export async function unfold(page: Page, ...names: string[]) {
  for (const name of names) {
    const fold = page.locator('details', { has: page.locator('summary', { hasText: name }) })
    if (!(await fold.evaluate((d: HTMLDetailsElement) => d.open))) await fold.locator('summary').click()
  }
}

/** A bottle whose label says nothing: 100 %, exactly. */
export async function pure(page: Page) {
  await unfold(page, 'The bottle at hand')
  await field(page, 'Assay on the bottle, % w/w').fill('100')
  await field(page, 'known within ±, %').fill('0')
}

export const field = (page: Page, label: string) => page.getByLabel(label, { exact: true })
export const inSheet = (page: Page) => page.getByRole('list', { name: 'Run sheet' })

/** Chooses from a list, by keyboard: the first that is so called. */
export async function choose(page: Page, list: string, option: RegExp | string) {
  const box = page.getByRole('combobox', { name: list, exact: true })
  await box.focus()
  await page.keyboard.press('Enter')
  await page.getByRole('option', { name: option }).first().click()
}

/** A bottle of sodium hydroxide or of hydrochloric acid, made approximately; taken in twice it is
 * there once. */
export async function withBottle(page: Page, of: 'lye' | 'acid') {
  const data = readFileSync(`../internal/lab/testdata/${of}.json`, 'utf8')
  const headers = { 'Content-Type': 'application/json' }
  expect((await page.request.post('/api/v1/import', { data, headers })).ok()).toBe(true)
}

/** A bottle of a standard of so many grams in 500 mL, made in an earlier week; its ID. Others in one lab
 * have another place. */
export async function withStandard(page: Page, substance: string, grams: number, place: number): Promise<string> {
  const record = readFileSync('../internal/lab/testdata/lye.json', 'utf8')
  const data = JSON.parse(record.replaceAll('8000-0000000004', `8000-0000000${place}b4`))
  const [run] = data.runs
  const substances = await (await page.request.get('/api/v1/substances')).json()
  run.request.substance = substances.find(
    (s: { substance: { key: string } }) => s.substance.key === substance,
  ).substance
  Object.assign(run.request, { assay: 1, assayLimits: 0 })
  run.facts.find((f: { kind: string }) => f.kind === 'weighed').quantity.value = grams
  const answer = await page.request.post('/api/v1/import', { data })
  expect(answer.ok(), await answer.text()).toBe(true)
  const { items } = await (await page.request.get('/api/v1/bottles')).json()
  return items.find((b: { runId?: string }) => b.runId === run.id).id
}

/** A session to come of so many groups, three hours long; its ID. */
export async function withSession(page: Page, title: string, groups: number, starts: Date): Promise<string> {
  const id = randomUUID()
  const session = {
    title,
    starts: starts.toISOString(),
    ends: new Date(starts.getTime() + 3 * 3600_000).toISOString(),
    zone: 'Europe/London',
    groups,
    meters: 0,
    items: [],
    people: [],
    own: [],
  }
  const answer = await page.request.post('/api/v1/lab-sessions', { data: { id, version: 0, session } })
  expect(answer.ok(), await answer.text()).toBe(true)
  return id
}

/** The first instructor of a new lab, signed in. */
export async function firstInstructor(page: Page, server: Server) {
  await page.goto('/')
  for (const [label, text] of [
    ['Set-up word, as the program printed it when it started', server.word()],
    ['Your name', 'Rowan Ashdown'],
    ['Initials for the record', 'RA'],
    ['Sign-in name', 'ashdown'],
    ['Password', password],
  ] as const)
    await field(page, label).fill(text)
  await page.getByRole('button', { name: 'Make the account' }).click()
}

/** Types what was read into the empty field that waits for it, by keyboard. */
export async function record(page: Page, label: string, text: string) {
  await expect(field(page, label)).toBeFocused()
  await expect(field(page, label)).toHaveValue('')
  await page.keyboard.type(text)
  await page.keyboard.press('Enter')
}

/** Tares and weighs, by keyboard. */
export async function weigh(page: Page, mass: string) {
  await record(page, 'Shown after taring', '0')
  await record(page, 'Net mass shown', mass)
}

/** From a kept mass to the mark. */
export async function makeUp(page: Page) {
  await expect(field(page, 'How many times')).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: 'All dissolved, clear' })).toBeVisible()
  await page.keyboard.press('1')
  await record(page, 'Temperature', '20.4')
  await expect(page.getByRole('button', { name: 'Meniscus on the line' })).toBeVisible()
}

/** From a kept mass to the label, which waits to be confirmed. */
export async function toTheLabel(page: Page) {
  await makeUp(page)
  await page.keyboard.press('1')
  await expect(field(page, 'How many times')).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('Keeps until')).toBeFocused()
}
