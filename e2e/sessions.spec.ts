import type { Page } from '@playwright/test'
import ICAL from 'ical.js'
import { another, choose, expect, field, signIn, test, toTheLabel, unfold, weigh, withStandard } from './bench'

test.use({ allow: [/422|409/] }) // the browser notes every refused request

/** A day so many days from today, as it is typed. */
function inDays(n: number) {
  const day = new Date()
  day.setDate(day.getDate() + n)
  return day.toLocaleDateString('sv-SE')
}

const supply = (page: Page) => page.getByRole('complementary', { name: 'What it asks for' })
const toDo = (page: Page) => page.getByRole('table', { name: 'To do' })
const task = (page: Page, title: string | RegExp) => toDo(page).getByRole('row').filter({ hasText: title })

/** Types a new session with one liquid, into the fields. */
async function plan(page: Page, title: string, liquid: string, strength: string, days = 9) {
  await page.goto('/sessions/new')
  await expect(field(page, 'Title')).toBeFocused()
  await field(page, 'Title').fill(title)
  await field(page, 'Day').fill(inDays(days))
  await field(page, 'Groups').fill('4')
  await page.getByRole('button', { name: 'Add a liquid' }).click()
  await field(page, 'Liquid').fill(liquid)
  await field(page, 'Strength').fill(strength)
}

async function keep(page: Page) {
  await page.getByRole('button', { name: /Keep the/ }).click()
  await expect(page.getByRole('button', { name: 'Kept' })).toBeVisible()
  await expect(page).toHaveURL(/\/sessions\/[0-9a-f-]{36}$/)
}

test.beforeEach(async ({ page }) => {
  await signIn(page)
})

test('from nothing to a plan, by keyboard: needs, supply and schedule grow while it is typed', async ({ page }) => {
  await page.goto('/today')
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible()
  await page.keyboard.press('e')
  await expect(page.getByRole('heading', { name: 'Sessions', exact: true })).toBeVisible()
  await page.getByRole('button', { name: 'Plan a session' }).focus()
  await page.keyboard.press('Enter')
  await expect(field(page, 'Title')).toBeFocused()
  await page.keyboard.type('Silver from pond mud')
  await page.keyboard.press('Tab')
  await expect(field(page, 'Day')).toBeFocused()
  await field(page, 'Day').fill('soon')
  await expect(page.getByText('a day, like 2026-12-09')).toBeVisible()
  await field(page, 'Day').fill(inDays(9))
  await expect(page.getByText('a day, like 2026-12-09')).toHaveCount(0)
  await field(page, 'Groups').fill('0')
  await expect(page.getByText('a session is planned for 1 to 60 groups')).toBeVisible()
  await field(page, 'Groups').fill('12')
  await page.getByRole('button', { name: 'Add a liquid' }).focus()
  await page.keyboard.press('Enter')
  await page.keyboard.press('Control+Enter') // not before the liquid has a name
  await expect(page.getByText('say what is in it, like “sodium hydroxide”')).toBeVisible()
  await field(page, 'Liquid').fill('sodium chloride')
  await expect(page.getByText('say what is in it')).toHaveCount(0)
  await field(page, 'Strength').fill('0.1 mol/L')
  await field(page, 'Each time').fill('twenty')
  await expect(page.getByText(/“twenty”/)).toBeVisible()
  await field(page, 'Each time').fill('20 mL')
  // 2 × 20 mL and one to spare for each of 12 groups and one place more, and 5 %: 819 mL.
  await expect(supply(page).getByText('60 mL for each of 13 places, 819 mL in all')).toBeVisible()
  await expect(supply(page).getByText('Make it: 1 L.')).toBeVisible()
  await expect(task(page, 'Dry sodium chloride')).toContainText('5 min, then 2 h of waiting')
  await expect(task(page, 'Make sodium chloride, 0.1 mol/L, 1 L')).toContainText('Rowan Ashdown')
  await expect(page.getByText(/and all is ready at 08:45/)).toBeVisible()
  await expect(page.getByRole('img', { name: /^Schedule of / }).first()).toBeVisible()
  await page.keyboard.press('Control+Enter')
  await expect(page.getByRole('button', { name: 'Kept' })).toBeVisible()
  await page.reload()
  await expect(field(page, 'Title')).toHaveValue('Silver from pond mud')
  await expect(task(page, 'Dry sodium chloride')).toBeVisible()
  await page.goto('/sessions')
  await expect(page.getByRole('row').filter({ hasText: 'Silver from pond mud' })).toContainText('4 to do, 0 done')
})

test('an allowance is changed where it stands; a burette adds its own', async ({ page }) => {
  await plan(page, 'Allowances', 'sodium chloride', '0.1 mol/L')
  await expect(supply(page).getByText('60 mL for each of 5 places, 315 mL in all')).toBeVisible()
  await page.getByRole('combobox', { name: 'Out of' }).focus()
  await page.keyboard.press('Enter')
  await page.getByRole('option', { name: 'a burette' }).click()
  await expect(supply(page).getByText('75 mL for each of 5 places, 394 mL in all')).toBeVisible()
  await unfold(page, 'Glass and allowances')
  await expect(page.getByText('rinsing 1 burette, 2 × 5 mL: 10 mL (rule S-2)')).toBeVisible()
  await field(page, 'To spare, mL').fill('0')
  await expect(supply(page).getByText('60 mL for each of 5 places, 315 mL in all')).toBeVisible()
  await field(page, 'A group has').fill('2')
  await field(page, 'One holds').fill('25 mL')
  await expect(supply(page).getByText('70 mL for each of 5 places')).toBeVisible()
  await expect(task(page, 'Rinse and fill 5 burettes').first()).toContainText('last of all')
})

test('a run ticks its task, and one that is void gives it back', async ({ page }) => {
  await plan(page, 'Given back', 'sodium chloride', '0.1 mol/L')
  await keep(page)
  const session = page.url()
  await task(page, 'Dry sodium chloride').getByRole('button', { name: 'Done' }).click()
  await expect(task(page, 'Dry sodium chloride')).toHaveCount(0)
  const over = page.getByRole('list', { name: 'Begun and done' })
  await expect(over.getByRole('listitem')).toContainText(['Dry sodium chloride, done'])
  await over.getByRole('button', { name: 'Not done' }).click()
  await expect(task(page, 'Dry sodium chloride')).toBeVisible()

  await task(page, 'Make sodium chloride').getByRole('button', { name: 'Open' }).click()
  await expect(page.getByText('For Given back: Make sodium chloride, 0.1 mol/L, 500 mL.')).toBeVisible()
  await expect(page.getByText('2.9220 g')).toBeVisible() // 0.05 mol of 58.44 g/mol
  await page.getByRole('button', { name: 'Take it to the bench' }).click()
  await expect(page.getByRole('heading', { name: 'Sodium chloride, 0.1 mol/L' })).toBeVisible()
  await page.getByRole('button', { name: 'Give this run up' }).click()
  await page.getByLabel('Why it is given up').fill('spilled')
  await page.getByRole('button', { name: 'Void this run' }).click()
  await expect(page.getByText('This run is void: given up: spilled')).toBeVisible()
  await page.goto(session)
  await expect(over.getByRole('listitem')).toContainText([/run \d+ void: the task is open again/])
  await expect(task(page, 'Make sodium chloride, 0.1 mol/L, 500 mL')).toBeVisible()

  await task(page, 'Make sodium chloride').getByRole('button', { name: 'Open' }).click()
  await page.getByRole('button', { name: 'Take it to the bench' }).click()
  await weigh(page, '2.9220')
  await expect(page.getByText('On the target')).toBeVisible()
  await page.keyboard.press('1')
  await toTheLabel(page)
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: /^concentration: 0\.100/ })).toBeVisible()
  await page.goto(session)
  await expect(
    supply(page)
      .getByText(/Bottle \d+: serves as it is; 500 mL left\./)
      .first(),
  ).toBeVisible()
  await expect(task(page, 'Make sodium chloride')).toHaveCount(0)
  await expect(over.getByRole('listitem').last()).toContainText(
    /Make sodium chloride, 0\.1 mol\/L, 500 mL, ?run \d+ done/,
  )

  // Another session wants the same bottle: it was promised, and what is left is not enough.
  await plan(page, 'Second in line', 'sodium chloride', '0.1 mol/L', 10)
  await expect(supply(page).getByText(/Make it: 250 mL\. Bottle \d+ serves for the rest, 185 mL\./)).toBeVisible()
  await unfold(page, 'Other ways')
  await expect(
    supply(page).getByText(/Bottle \d+: not enough, 500 mL left, of which 315 mL are promised; 315 mL are needed\./),
  ).toBeVisible()
})

test('what is short is said, and mended', async ({ page }) => {
  await plan(page, 'Something is short', 'brine of the old kind', '0.1 mol/L')
  await expect(supply(page).getByText('no bottle, and no substance of that name in the library')).toBeVisible()
  await keep(page)
  await page.goto('/sessions')
  await expect(page.getByRole('row').filter({ hasText: 'Something is short' })).toContainText('1 thing short')
  await page.goto('/today')
  await expect(page.getByRole('status').filter({ hasText: 'Something is short' })).toContainText('no bottle')
  await page.getByRole('link', { name: 'Something is short' }).click()
  await field(page, 'Liquid').fill('potassium chloride')
  await expect(supply(page).getByText(/Make it: /)).toBeVisible()
  await keep(page)
  await page.goto('/sessions')
  await expect(page.getByRole('row').filter({ hasText: 'Something is short' })).toContainText('to do')
})

test('a task that is moved says what it breaks, and goes back', async ({ page }) => {
  await plan(page, 'Moved about', 'sodium chloride', '0.1 mol/L')
  await keep(page)
  const make = task(page, 'Make sodium chloride')
  await make.getByRole('button', { name: 'Move' }).click()
  await field(page, 'Begins').fill('tomorrow')
  await page.keyboard.press('Enter')
  await expect(page.getByText('a day and a time, like 2026-12-08 14:30')).toBeVisible()
  await field(page, 'Begins').fill(`${inDays(9)} 05:00`)
  await page.keyboard.press('Enter')
  await expect(make).toContainText('Rowan Ashdown is not there all the time.')
  await expect(make).toContainText('05:00')
  await page.reload()
  await expect(make).toContainText('05:00')
  await make.getByRole('button', { name: 'Move' }).click()
  await page.getByRole('button', { name: 'Back to the schedule' }).click()
  await expect(make).not.toContainText('05:00')
  await expect(make.getByRole('alert')).toHaveCount(0)
})

test('too late: what would help was tried', async ({ page }) => {
  await plan(page, 'Too late', 'sodium chloride', '0.1 mol/L', 0)
  const soon = new Date(Date.now() + 50 * 60_000)
  const clock = (at: Date) => at.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })
  const end = new Date(soon.getTime() + 60_000)
  await field(page, 'Day').fill(soon.toLocaleDateString('sv-SE'))
  await field(page, 'From').first().fill(clock(soon))
  await field(page, 'To').first().fill(clock(end))
  await field(page, 'From').nth(1).fill('00:00')
  await field(page, 'To').nth(1).fill('23:59')
  const late = page.getByRole('alert').filter({ hasText: 'too late' })
  await expect(late).toContainText('No other order would be quicker.')
  await expect(late).toContainText(/A bottle of sodium chloride, 0\.1 mol\/L from elsewhere, 315 mL: in time/)
})

test('copied to the next week, taken off the plan; two people at one session', async ({ page, browser, lab }) => {
  await plan(page, 'Every week', 'sodium chloride', '0.1 mol/L')
  await keep(page)
  const other = await another(browser, lab.server.url, 'thorne')
  await other.goto(page.url())
  await expect(field(other, 'Title')).toHaveValue('Every week')
  await field(page, 'Place').fill('Lab 7')
  await keep(page)
  await expect(field(other, 'Place')).toHaveValue('Lab 7') // nothing typed there was lost: nothing was typed
  await field(other, 'Groups').fill('6')
  await field(page, 'Groups').fill('5')
  await keep(page)
  await expect(field(other, 'Groups')).toHaveValue('6')
  await other.context().close()

  const first = page.url()
  await page.getByRole('button', { name: 'Copy to the next week' }).click()
  await expect(field(page, 'Day')).toHaveValue(inDays(16))
  await keep(page)
  expect(page.url()).not.toBe(first)
  await page.getByRole('button', { name: 'Take it off the plan…' }).click()
  await page.getByRole('button', { name: 'Take it off; its runs stay' }).click()
  await expect(page.getByRole('heading', { name: 'Sessions', exact: true })).toBeVisible()
  await expect(page.getByRole('row').filter({ hasText: 'Every week' })).toHaveCount(1)
})

test('a dilution and a buffer open filled in, as a standard does', async ({ page }) => {
  await page.goto('/sessions')
  await page.getByRole('link', { name: 'Acid in pond water' }).click()
  await task(page, 'Dilute potassium hydrogen phthalate').getByRole('button', { name: 'Open' }).click()
  await expect(
    page.getByText('For Acid in pond water: Dilute potassium hydrogen phthalate to 0.02 mol/L'),
  ).toBeVisible()
  await expect(field(page, 'To (1 in 100, 1 + 99, or a figure in mol/L)')).toHaveValue('0.02')
  await expect(field(page, 'How much of it, mL')).toHaveValue('250')
  await expect(page.locator('.el-select__placeholder', { hasText: /bottle \d+: Potassium hydrogen/ })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Take it to the bench' })).toBeEnabled()
  await page.goto('/sessions')
  await page.getByRole('link', { name: 'pH along the stream' }).click()
  await task(page, 'Make phosphate buffer').getByRole('button', { name: 'Open' }).click()
  await expect(field(page, 'pH wanted')).toHaveValue('7.00')
  await expect(field(page, 'Concentration')).toHaveValue('0.05 mol/L')
  await expect(field(page, 'How much')).toHaveValue('500 mL') // a bottle of the shelf serves for the rest
  await page.getByRole('button', { name: 'Not for it' }).click()
})

test('a bottle whose strength nobody found opens its titration with it in the burette', async ({ page }) => {
  await withStandard(page, 'sodium-hydroxide', 4.02, 3)
  await plan(page, 'Found first', 'sodium hydroxide', '0.2 mol/L')
  await page.getByText('its strength must be known').click()
  const serves = supply(page).getByText(/Bottle \d+: serves once it is standardised; 500 mL left\./)
  await expect(serves).toBeVisible()
  const number = /\d+/.exec(await serves.innerText())![0]
  await keep(page)
  await task(page, 'Standardise sodium hydroxide, 0.2 mol/L').getByRole('button', { name: 'Open' }).click()
  await expect(page.getByText('For Found first: Standardise sodium hydroxide, 0.2 mol/L.')).toBeVisible()
  const titrant = page.getByRole('combobox', { name: 'Titrant', exact: true })
  await expect(titrant).toBeVisible()
  await expect(page.locator('.el-select').filter({ has: titrant })).toContainText(`bottle ${number}: `)
})

test('the session at hand is chosen on the strip, and Today leads to what is next', async ({ page }) => {
  await page.goto('/today')
  const next = page.getByRole('region', { name: /./ }).filter({ has: page.getByText(/^Next · /) })
  await expect(next).toContainText('for Acid in pond water')
  await expect(next.getByRole('button').first()).toBeFocused()
  await page.getByRole('table', { name: 'Then' }).getByRole('button', { name: 'Calibrate a pH meter' }).click()
  await expect(page.getByText('For Acid in pond water: Calibrate a pH meter.')).toBeVisible()
  await page.getByRole('button', { name: 'Not for it' }).click()
  await expect(page.getByText('For Acid in pond water')).toHaveCount(0)
  await page.getByRole('button', { name: /^Session / }).click()
  await page.getByRole('button', { name: /^Hardness of pond water, / }).click()
  await expect(page.getByRole('button', { name: 'Session Hardness of pond water' })).toBeVisible()
  await page.getByRole('button', { name: /^Session / }).click()
  await page.getByLabel('Session or task').fill('Pond-water week, Tuesday')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: 'Session Pond-water week, Tuesday' })).toBeVisible()
})

/** The events of the calendar file, as another program reads them. */
async function calendar(page: Page) {
  const answer = await page.request.get('/api/v1/lab-sessions/calendar.ics')
  expect(answer.headers()['content-type']).toContain('text/calendar')
  const root = new ICAL.Component(ICAL.parse(await answer.text()))
  expect(root.getFirstPropertyValue('version')).toBe('2.0')
  return root.getAllSubcomponents('vevent').map((component) => {
    const event = new ICAL.Event(component)
    return { event, sequence: Number(component.getFirstPropertyValue('sequence')) }
  })
}

test('the calendar file is read by another program; a change keeps its events and counts them on', async ({ page }) => {
  await plan(page, 'On the calendar; semicolons, commas, and “quotes”', 'sodium chloride', '0.1 mol/L')
  await field(page, 'Place').fill('Lab 2, upstairs')
  await keep(page)
  const id = page.url().split('/').at(-1)!
  const mine = async () => (await calendar(page)).filter(({ event }) => event.uid.includes(id))
  const before = await mine()
  const session = before.find(({ event }) => event.uid.startsWith('session-'))!
  expect(session.event.summary).toBe('On the calendar; semicolons, commas, and “quotes”')
  expect(session.event.location).toBe('Lab 2, upstairs')
  expect(session.event.startDate.toJSDate().toISOString()).toBe(new Date(`${inDays(9)}T09:00`).toISOString())
  expect(session.event.endDate.toJSDate().toISOString()).toBe(new Date(`${inDays(9)}T12:00`).toISOString())
  expect(session.sequence).toBe(1)
  expect(before.map(({ event }) => event.summary)).toContain('Make sodium chloride, 0.1 mol/L, 500 mL')
  for (const { event } of before.filter((e) => e !== session))
    expect(event.endDate.toJSDate() <= session.event.startDate.toJSDate()).toBe(true)

  await field(page, 'From').first().fill('10:00')
  await keep(page)
  const after = await mine()
  expect(after.map(({ event }) => event.uid).sort()).toEqual(before.map(({ event }) => event.uid).sort())
  expect(after.every(({ sequence }) => sequence === 2)).toBe(true)
  expect(
    after
      .find(({ event }) => event.uid.startsWith('session-'))!
      .event.startDate.toJSDate()
      .toISOString(),
  ).toBe(new Date(`${inDays(9)}T10:00`).toISOString())
})

test('a session goes out as a file, and another is planned from it', async ({ page }) => {
  await plan(page, 'For another term', 'sodium chloride', '0.2 mol/L')
  await unfold(page, 'Glass and allowances')
  await field(page, 'Besides, mL').fill('7')
  await keep(page)
  const saved = page.waitForEvent('download')
  await page.getByRole('button', { name: 'The session as a file' }).click()
  const file = await saved
  expect(file.suggestedFilename()).toBe('For-another-term.json')
  const text = await (await file.createReadStream()).toArray()
  const { format, session } = JSON.parse(Buffer.concat(text).toString())
  expect(format).toBe('vialbench-session/1')
  expect(session.items).toMatchObject([
    {
      name: 'sodium chloride',
      concentration: '0.2 mol/L',
      each: '20 mL',
      times: 2,
      allowances: { other: '7' },
      from: '',
    },
  ])

  await page.goto('/sessions')
  const choose = page.getByLabel('or from a file')
  await choose.setInputFiles({
    name: 'x.json',
    mimeType: 'application/json',
    buffer: Buffer.from('{"format": "pond"}'),
  })
  await expect(page.getByText('its format should be vialbench-session/1')).toBeVisible()
  await choose.setInputFiles({ name: 'x.json', mimeType: 'application/json', buffer: Buffer.from('soup') })
  await expect(page.getByText('This file cannot be read')).toBeVisible()
  await choose.setInputFiles({ name: 'y.json', mimeType: 'application/json', buffer: Buffer.concat(text) })
  await expect(field(page, 'Title')).toHaveValue('For another term')
  await expect(field(page, 'Day')).toHaveValue(inDays(7))
  await expect(field(page, 'Strength')).toHaveValue('0.2 mol/L')
  await expect(supply(page).getByText('67 mL for each of 5 places, 352 mL in all')).toBeVisible()
})

test('a private address is made for a calendar program, and withdrawn', async ({ page, browser, lab }) => {
  await page.goto('/sessions')
  await unfold(page, 'In a calendar program')
  await page.getByRole('button', { name: 'Make a private address' }).click()
  const address = await page.locator('code.address').innerText()
  expect(address).toMatch(new RegExp(`^${lab.server.url}/api/v1/calendar/[A-Z2-7]{52}/sessions.ics$`))
  const program = await browser.newContext() // nobody is signed in there
  const read = await program.request.get(address)
  const root = new ICAL.Component(ICAL.parse(await read.text()))
  const titles = root.getAllSubcomponents('vevent').map((event) => String(event.getFirstPropertyValue('summary')))
  expect(titles).toContain('Hardness of pond water')
  await page.reload()
  await unfold(page, 'In a calendar program')
  await expect(page.getByRole('list', { name: 'Private addresses' }).getByRole('listitem')).toHaveCount(1)
  await expect(page.getByText(address)).toHaveCount(0)
  await page.getByRole('button', { name: 'Withdraw address 1' }).click()
  await expect(page.getByRole('list', { name: 'Private addresses' })).toHaveCount(0)
  expect((await program.request.get(address)).status()).toBe(404)
  await program.close()
})

test('unknowns are made from one stock, given out by number, and their key is opened on record', async ({ page }) => {
  await plan(page, 'Unknown chloride', 'sodium chloride', '0.1 mol/L', 12)
  await keep(page)
  await unfold(page, 'Unknowns')
  await field(page, 'What is in them').fill('Sodium chloride')
  await field(page, 'Strength of the stock').fill('1 mol/L')
  await field(page, 'From a strength of').fill('0.05 mol/L')
  await field(page, 'to').fill('0.06 mol/L')
  await expect(page.getByText(/tells \d strengths? of this range apart, not 4: widen the range/)).toBeVisible()
  await field(page, 'to').fill('0.3 mol/L')
  await expect(page.getByText(/^4 strengths, at least .* times as far apart/)).toBeVisible()
  await page.keyboard.press('Enter')
  const set = page.getByRole('region', { name: 'Unknowns: Sodium chloride' })
  await expect(set.getByText(/^4 bottles of 4 strengths, from [\d.]+ mL of the stock\./)).toBeVisible()
  const numbers = set.getByText(/^group \d: \d{3}$/)
  await expect(numbers).toHaveCount(4)
  const given = await numbers.allInnerTexts()
  await set.getByRole('button', { name: 'Open the list to prepare by' }).click()
  const list = set.getByRole('table', { name: 'To prepare' })
  await expect(list.getByRole('row')).toHaveCount(4)
  await expect(list.getByRole('row').first()).toContainText(/mL (twice |3 times )?to \d+ mL ?bottles \d{3}/)
  await set.getByRole('button', { name: 'Open the key…' }).click()
  await page.getByRole('button', { name: 'Open it, on record' }).click()
  await expect(page.getByText('say why the key is opened: it is on record')).toBeVisible()
  await field(page, 'Why the key is opened').fill('the class is over')
  await page.keyboard.press('Enter')
  const key = set.getByRole('table', { name: 'The key' })
  await expect(key.getByRole('row')).toHaveCount(4)
  const rows = await key.getByRole('row').allInnerTexts()
  for (const [i, row] of rows.entries()) {
    const number = given[i]!.split(' ').at(-1)!
    expect(row).toMatch(new RegExp(`^group ${i + 1}\\s+bottle ${number}\\s+0\\.\\d+ mol/L$`))
  }
  await page.reload()
  await unfold(page, 'Unknowns')
  await expect(set.getByRole('list', { name: 'Opened' }).getByRole('listitem')).toHaveText([
    /^RA opened the list today/,
    /^RA opened the key today .*: the class is over$/,
  ])
  await expect(set.getByRole('table')).toHaveCount(0)
  await set.getByRole('button', { name: 'Withdraw them' }).click()
  await expect(set).toHaveCount(0)
})

test('what each group uses is taken from a plan', async ({ page }) => {
  await page.goto('/sessions/new')
  await expect(field(page, 'Title')).toBeFocused()
  await unfold(page, 'Take the liquids from a plan')
  const take = page.getByRole('button', { name: 'Take its liquids' })
  await expect(take).toBeDisabled()
  await choose(page, 'Each group carries out', /^plan \d+: Standardise potassium permanganate$/)
  await take.click()
  await expect(field(page, 'Liquid')).toHaveValue('Potassium permanganate')
  await expect(field(page, 'Strength')).toHaveValue('0.02 mol/L')
  await expect(field(page, 'Each time')).toHaveValue(/^2\d mL$/)
  await expect(field(page, 'Times for a group')).toHaveValue('2')
  await expect(supply(page).getByText(/^8\d mL for each of 13 places, /)).toBeVisible()
})
