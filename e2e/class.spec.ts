import { readFileSync } from 'node:fs'
import type { Browser, Page } from '@playwright/test'
import { choose, expect, field, inSheet, signIn, test, watch, withSession } from './bench'

test.use({ allow: [/409|422|404|ERR_|Failed to load|Failed to fetch/] })
test.beforeEach(async ({ page }) => signIn(page))

// Tuesday's class of the sample records.
const tuesday = '019a0000-0000-7000-8000-000000007000'
const mill = '019a0000-0000-7000-8000-000000007002'

/** A session of so many groups in an hour; its ID. */
const session = (page: Page, title: string, groups: number) =>
  withSession(page, title, groups, new Date(Date.now() + 3600_000))

/** A tablet of a group: a browser of its own, with the sheet opened by its code, by keyboard alone. */
async function tablet(browser: Browser, origin: string, code: string): Promise<Page> {
  const context = await browser.newContext({ baseURL: origin })
  const page = await context.newPage()
  watch(page, origin)
  await page.goto('/class')
  await expect(field(page, 'The code on your card')).toBeFocused()
  await page.keyboard.type(code)
  await page.keyboard.press('Enter')
  return page
}

const grid = (page: Page) => page.getByRole('table', { name: 'Groups and their tasks' })
const row = (page: Page, group: number) =>
  grid(page)
    .getByRole('row')
    .filter({ has: page.getByText(`Group ${group}`, { exact: true }) })
const codeOf = async (page: Page, group: number) => (await row(page, group).getByRole('cell').nth(1).innerText()).trim()

/** Opens the class of a session for its groups, with the acid from the old mill as their task. */
async function open(page: Page, id: string, groups: number) {
  await page.goto(`/sessions/${id}/class`)
  await page.getByRole('button', { name: `Open a sheet for each of the ${groups} groups` }).press('Enter')
  await expect(grid(page).getByRole('row')).toHaveCount(groups + 1)
  await choose(page, 'They carry out', /acid from the old mill/i)
  await field(page, 'Title on their sheet, if another').fill('The old mill')
  await field(page, 'What the bottles hold, where it is known').fill('a lot')
  await page.getByRole('button', { name: 'Give it out' }).press('Enter')
  await expect(page.getByText('write what the bottles held like 0.0512 ± 0.0002 mol/L')).toBeVisible()
  await field(page, 'What the bottles hold, where it is known').fill('0.612 ± 0.002 mol/L')
  await page.getByRole('button', { name: 'Give it out' }).press('Enter')
  await expect(grid(page).getByText('The old mill')).toBeVisible()
}

async function rinse(group: Page) {
  await group.getByRole('button', { name: 'Begin', exact: true }).press('Enter')
  await group.getByRole('button', { name: 'Rinsed three times' }).press('1')
}

/** A trial from one reading to another. */
async function trial(group: Page, from: string, to: string) {
  const delivered = group.getByRole('button', { name: '1 Done', exact: true })
  await expect(delivered).toBeEnabled()
  await delivered.press('1')
  for (const [asks, mL] of [
    [/read the burette before it begins/, from],
    [/run it in, and read when you stop/, to],
  ] as const) {
    await expect(inSheet(group).getByText(asks)).toBeVisible()
    await expect(field(group, 'Burette')).toBeFocused()
    await group.keyboard.type(mL)
    await group.keyboard.press('Enter')
  }
  await group.getByRole('button', { name: 'That was the end point' }).press('1')
}

const handIn = async (group: Page, text: string) => {
  await field(group, 'Your result, in mol/L, as you worked it out').fill(text)
  await group.getByRole('button', { name: 'Hand it in' }).press('Enter')
}

test('two groups write at once, and the instructor sees both; what is computed is shown once they handed in', async ({
  page,
  browser,
  lab,
}) => {
  const id = await session(page, 'Two at once', 3)
  await open(page, id, 3)
  const [first, second] = [
    await tablet(browser, lab.server.url, (await codeOf(page, 1)).toLowerCase()),
    await tablet(browser, lab.server.url, await codeOf(page, 2)),
  ]
  await expect(first.getByRole('heading', { name: 'Group 1' })).toBeVisible()
  await expect(second.getByRole('heading', { name: 'Group 2' })).toBeVisible()
  await Promise.all([rinse(first), rinse(second)])
  await expect(row(page, 1).getByText(/Trial 1, rough/)).toBeVisible()
  await expect(row(page, 2).getByText(/Trial 1, rough/)).toBeVisible()
  await expect(row(page, 3).getByText('not begun')).toBeVisible()

  await Promise.all([trial(first, '0.20', '12.60'), trial(second, '1.10', '13.55')])
  await expect(inSheet(first).getByText(/Trial 1: burette at 0\.20 mL; stopped at 12\.60 mL/)).toBeVisible()
  await expect(inSheet(first).getByText(/12\.40/)).toHaveCount(0)
  await expect(first.getByRole('heading', { name: 'What your figures give' })).toHaveCount(0)
  await expect(first.getByRole('link', { name: 'Report' })).toHaveCount(0)

  // A hand is raised, and somebody comes.
  await second.getByRole('button', { name: 'Raise your hand' }).press('Enter')
  await expect(page.getByText('Hand raised:')).toBeVisible()
  await page.getByRole('button', { name: 'Helped' }).press('Enter')
  await expect(second.getByRole('button', { name: 'Raise your hand' })).toBeVisible()

  // A word to one of them stands on its sheet, and on no other.
  await page.getByText('A word to the groups').click()
  await choose(page, 'To', 'Group 2')
  await field(page, 'What you say').fill('Rinse it once more')
  await page.getByRole('button', { name: 'Say it' }).press('Enter')
  await expect(page.getByText('Said to Group 2: Rinse it once more')).toBeVisible()
  await expect(second.getByRole('list', { name: 'Said to you' }).getByText('Rinse it once more')).toBeVisible()
  await expect(first.getByText('Rinse it once more')).toHaveCount(0)

  // Handed in from the list of tasks: in another unit it is refused, and what was typed stays.
  await first.getByRole('link', { name: 'All tasks' }).press('Enter')
  await handIn(first, '12 mL')
  await expect(first.getByText('state the result in mol/L')).toBeVisible()
  await expect(field(first, 'Your result, in mol/L, as you worked it out')).toHaveValue('12 mL')
  await handIn(first, '0.0612 mol/L')
  await expect(first.getByText('You handed in 0.0612 mol/L.')).toBeVisible()
  await expect(first.getByText('Your figures give')).toBeVisible()
  await expect(row(page, 1).getByText('0.0612 mol/L')).toBeVisible()
  await expect(row(page, 1).getByText('not what its figures give')).toBeVisible()
  await first.getByRole('link', { name: 'Go on' }).press('Enter')
  await expect(first.getByRole('heading', { name: 'What your figures give' })).toBeVisible()

  // Nothing else is theirs: not a page, and not a request made by hand.
  await first.goto('/shelf')
  await expect(first).toHaveURL(/\/class$/)
  expect((await first.request.get('/api/v1/bottles')).status()).toBe(403)
  const run = await second.getByRole('list', { name: 'Run sheet' }).evaluate(() => location.pathname.split('/').at(-1))
  expect((await first.request.get(`/api/v1/runs/${run}`)).status()).toBe(404)
  await first.getByRole('button', { name: 'Close the sheet' }).press('Enter')
  await expect(field(first, 'The code on your card')).toBeVisible()
  await Promise.all([first.context().close(), second.context().close()])
})

test('a group says what stands on its bench, and what it begins then is worked out for that', async ({
  page,
  browser,
  lab,
}) => {
  const id = await session(page, 'Benches', 1)
  await open(page, id, 1)
  const group = await tablet(browser, lab.server.url, await codeOf(page, 1))
  await group.getByText('Your bench: as the lab’s').press('Enter')
  await choose(group, 'Your balance', 'Moss')
  await field(group, 'Water and solutions, °C').fill('55')
  await group.getByRole('button', { name: 'This is our bench' }).press('Enter')
  await expect(group.getByText('water on a bench is from 0 to 40 °C')).toBeVisible()
  await field(group, 'Water and solutions, °C').fill('23,5')
  await group.getByRole('button', { name: 'This is our bench' }).press('Enter')
  await expect(group.getByText('Your bench: Moss, 23.5 °C')).toBeVisible()
  await group.reload()
  await expect(group.getByText('Your bench: Moss, 23.5 °C')).toBeVisible()
  await rinse(group)
  await expect(
    inSheet(group)
      .getByText(/Trial 1, rough/)
      .first(),
  ).toBeVisible()
  const run = group.url().split('/').at(-1)
  const kept = await (await group.request.get(`/api/v1/runs/${run}/plan`)).json()
  expect([kept.bench.balance.name, kept.bench.celsius]).toEqual(['Moss', 23.5])
  await group.context().close()
})

test('a group takes its readings from the balance on its own bench, and has no verdicts where they are kept back', async ({
  page,
  browser,
  lab,
}) => {
  lab.database.change(`UPDATE balances SET address = '${lab.standin}' WHERE name = 'Fern'`)
  const id = await session(page, 'Weighing', 1)
  await page.goto(`/sessions/${id}/class`)
  await page.getByRole('button', { name: 'Open a sheet for each of the 1 groups' }).press('Enter')
  await choose(page, 'They carry out', /plan \d+: potassium hydrogen phthalate/i)
  await expect(page.getByText('Verdicts may tell a difference or a mean of what the groups read.')).toBeVisible()
  await choose(page, 'Verdicts are shown', 'once they handed theirs in')
  await expect(page.getByText('Verdicts may tell a difference or a mean of what the groups read.')).toHaveCount(0)
  await page.getByRole('button', { name: 'Give it out' }).press('Enter')
  await expect(
    grid(page)
      .getByText(/phthalate/i)
      .first(),
  ).toBeVisible()
  const group = await tablet(browser, lab.server.url, await codeOf(page, 1))
  await group.getByText('Your bench: as the lab’s').press('Enter')
  await choose(group, 'Your balance', 'Fern')
  await group.getByRole('button', { name: 'This is our bench' }).press('Enter')
  await expect(group.getByText('Your bench: Fern')).toBeVisible()
  await group.getByRole('button', { name: 'Begin', exact: true }).press('Enter')
  const shows = group.getByRole('group', { name: 'Balance Fern' })
  await expect(shows.getByText('0.0000 g')).toBeVisible()
  await expect(shows.getByRole('button', { name: 'Take it' })).toBeFocused()
  await group.keyboard.press('Enter')
  await expect(inSheet(group).getByText('Tared, the balance shows 0.0000 g, read from Fern')).toBeVisible()
  // What is poured on is too little by far: nothing says so, and the ways on are there.
  const balance = lab.database.sql("SELECT id FROM balances WHERE name = 'Fern'")
  await page.request.post(`/api/v1/balances/${balance}/standin`, { data: { pan: 3.1 } })
  await expect(shows.getByText('3.1000 g')).toBeVisible()
  await expect(shows.getByText('stands')).toBeVisible()
  await shows.getByRole('button', { name: 'Take it' }).press('Enter')
  await expect(inSheet(group).getByText('Decide how you go on.')).toBeVisible()
  await expect(inSheet(group).getByText(/under, below the/)).toHaveCount(0)
  await expect(inSheet(group).getByText(/2\.00/)).toHaveCount(0)
  await expect(group.getByRole('button', { name: /Keep this mass/ })).toBeVisible()
  await page.request.post(`/api/v1/balances/${balance}/standin`, { data: { pan: 0 } })
  lab.database.change("UPDATE balances SET address = ''")
  await group.context().close()
})

test('the network is away at a tablet: it goes on, and all of it is on record afterwards', async ({
  page,
  browser,
  lab,
}) => {
  const id = await session(page, 'Without a network', 2)
  await open(page, id, 2)
  const group = await tablet(browser, lab.server.url, await codeOf(page, 2))
  await rinse(group)
  await expect(group.getByRole('button', { name: '1 Done', exact: true })).toBeVisible()
  await group.context().setOffline(true)
  await field(group, 'Note for the record').fill('the tip dripped')
  await group.getByRole('button', { name: 'Add the note' }).press('Enter')
  await expect(group.getByText('1 reading is kept here')).toBeVisible()
  await group.context().setOffline(false)
  await expect(group.getByText('kept here')).toHaveCount(0)
  await expect(group.getByText('the tip dripped')).toBeVisible()
  await trial(group, '0.20', '12.60')
  await expect(inSheet(group).getByText(/Trial 1: burette at 0\.20 mL; stopped at 12\.60 mL/)).toBeVisible()
  await expect(row(page, 2).getByText(/Trial 2/)).toBeVisible()
  // A result that is handed in without a network is kept, and goes when it is back.
  await group.getByRole('link', { name: 'All tasks' }).press('Enter')
  await group.context().setOffline(true)
  await handIn(group, '0.613 mol/L')
  await expect(group.getByText('Kept here: 0.613 mol/L. It is handed in as soon as the network is back.')).toBeVisible()
  await group.context().setOffline(false)
  await expect(group.getByText('You handed in 0.613 mol/L.')).toBeVisible()
  await expect(row(page, 2).getByText('0.613 mol/L')).toBeVisible()
  await group.context().close()
})

test('three slips of Tuesday’s class are named and asked about; one is confirmed, one was not it', async ({ page }) => {
  await page.goto(`/sessions/${tuesday}/class`)
  await expect(grid(page).getByRole('row')).toHaveCount(13)
  await expect(grid(page).getByText('not what its figures give')).toHaveCount(2)
  await expect(row(page, 11).getByText('+25.0 % off')).toBeVisible()
  await grid(page).getByRole('link', { name: 'Results' }).press('Enter')
  await expect(page.getByText('Unlike the others: Group 4, Group 7, Group 11.')).toBeVisible()
  const of = (group: number) => page.getByRole('article', { name: `Group ${group}`, exact: true })
  await expect(page.getByRole('article')).toHaveCount(3)
  await expect(of(4).getByText(/would be explained by the dilution factor left out/)).toBeVisible()
  await expect(of(4).getByText('What was done to the sample before it was measured?')).toBeVisible()
  await expect(
    of(7).getByText(/would be explained by the start reading not subtracted \(in every trial\)/),
  ).toBeVisible()
  await expect(of(11).getByText(/a pipette of another size than was written down \(25 mL for 20 mL\)/)).toBeVisible()
  await of(4).getByRole('button', { name: 'Confirm' }).press('Enter')
  await expect(of(4).getByText('factor left out: confirmed.')).toBeVisible()
  await of(7).getByRole('button', { name: 'Not it' }).press('Enter')
  await expect(of(7).getByText('start left out: it was not that.')).toBeVisible()
  await page.reload()
  await expect(of(4).getByText('factor left out: confirmed.')).toBeVisible()
  const table = page.getByRole('table', { name: 'Results' })
  const cells = table.getByRole('row').filter({ hasText: 'Group 4' }).getByRole('cell')
  await expect(cells.nth(1)).toHaveText('0.06124 mol/L')
  await expect(cells.nth(3)).toHaveText('0.612')
  await expect(cells.nth(4)).toHaveText('−90.0')
  // What the figures give leads to the sheet, where its working stands.
  await cells.nth(7).getByRole('link').press('Enter')
  await expect(page).toHaveURL(/\/runs\//)
  await expect(page.getByRole('list', { name: 'Run sheet' })).toBeVisible()
  await page.keyboard.press('=')
  await expect(page.getByRole('region', { name: /^Working: / })).toBeVisible()
  await page.goBack()
  await expect(page.getByRole('img', { name: 'The results of the groups' })).toBeVisible()
  const sheets = await page.request.get(`/api/v1/class-tasks/${mill}/feedback.pdf`)
  expect(sheets.headers()['content-type']).toBe('application/pdf')
})

test('results are marked by the usual scheme, by one of a course, and no longer', async ({ page }) => {
  await signIn(page)
  await page.goto('/sessions/019a0000-0000-7000-8000-000000007000/results/019a0000-0000-7000-8000-000000007002')
  const results = page.getByRole('table', { name: 'Results' })
  await page.getByText('Earlier classes', { exact: true }).click()
  await expect(
    page.getByText('No earlier class handed in results of a task of this title, in this unit.'),
  ).toBeVisible()
  await page.getByText('Marks', { exact: true }).first().click()
  await page.getByRole('button', { name: 'Mark by the usual scheme' }).click()
  await expect(page.getByText('Marked by “Usual marks”: accuracy 40, precision 20, arithmetic 20')).toBeVisible()
  // Group 4 left the dilution out: its runs agree, its arithmetic does not follow.
  await results.getByRole('button', { name: 'Marks of Group 4', exact: true }).click()
  const marks = page.getByRole('region', { name: 'Marks of Group 4' })
  await expect(marks.getByText(/^accuracy: 0 of 40, −90\.0 % off: beyond 10 %$/)).toBeVisible()
  await expect(
    marks.getByText(/^precision: 20 of 20, 2 runs, standard deviation 0\.\d+ %: within 0\.5 %$/),
  ).toBeVisible()
  await expect(marks.getByText('arithmetic: 0 of 20, it does not follow from their own figures')).toBeVisible()
  // The scheme is a file that a course changes.
  const [saved] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'The scheme as a file' }).click(),
  ])
  const scheme = JSON.parse(readFileSync((await saved.path())!, 'utf8'))
  expect(scheme.format).toBe('vialbench-marks/1')
  const file = (of: unknown) => ({
    name: 'marks.json',
    mimeType: 'application/json',
    buffer: Buffer.from(typeof of === 'string' ? of : JSON.stringify(of)),
  })
  const own = page.getByLabel('A scheme of your own')
  await own.setInputFiles(file('marks'))
  await expect(page.getByText(/^This file is no JSON/)).toBeVisible()
  await own.setInputFiles(file({ ...scheme, parts: [{ of: 'accuracy', points: 10, bands: [] }] }))
  await expect(page.getByText('accuracy has 1 to 12 bands, the narrowest first')).toBeVisible()
  const parts = [{ of: 'accuracy', points: 10, bands: [{ within: 3, points: 10 }] }]
  await own.setInputFiles(file({ ...scheme, title: 'Within three', parts }))
  await expect(page.getByText('Marked by “Within three”: accuracy 10.')).toBeVisible()
  await expect(results.getByRole('button', { name: 'Marks of Group 1', exact: true })).toHaveText('10 of 10')
  await page.reload()
  await expect(results.getByRole('button', { name: 'Marks of Group 7', exact: true })).toHaveText('0 of 10')
  await page.getByText('Marks', { exact: true }).last().click()
  await page.getByRole('button', { name: 'No marks' }).click()
  await expect(results.getByRole('button', { name: /^Marks of/ })).toHaveCount(0)
})

test('results on paper are pasted, looked over and taken in together', async ({ page }) => {
  const id = await session(page, 'On paper', 4)
  await open(page, id, 4)
  await grid(page).getByRole('link', { name: 'Results' }).press('Enter')
  await page.getByText('Results on paper or from a spreadsheet').click()
  const text = page.getByLabel(/A line for each group/)
  await text.fill('group\tresult\n1\t0.611\n2;0,613 mol/L\nthird 0.6\n1 0.7')
  const read = page.getByRole('table', { name: 'As they were read' })
  await expect(read.getByText('write the number of the group')).toBeVisible()
  await expect(read.getByText('group 1 has a result already')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Take in 2 results' })).toBeDisabled()
  await text.fill('1\t0.611\n2;0,613 mol/L\n3\t612 g')
  await page.getByRole('button', { name: 'Take in 3 results' }).press('Enter')
  await expect(read.getByText(/group 3: state the result in mol\/L/)).toBeVisible()
  await text.fill('1\t0.611\n2;0,613 mol/L\n3\t612 mmol/L\n4\t6.13')
  await page.getByRole('button', { name: 'Take in 4 results' }).press('Enter')
  await expect(
    page.getByRole('article', { name: 'Group 4' }).getByText(/a decimal point that is shifted \(10 times too large\)/),
  ).toBeVisible()
  await expect(page.getByRole('table', { name: 'Results' }).getByText('612 mmol/L')).toBeVisible()

  // From a file: its columns are found, their unit is said once, and errors are told by their cells.
  const file = page.getByLabel('Or a file, XLSX or CSV')
  await file.setInputFiles({ name: 'x.csv', mimeType: 'text/csv', buffer: Buffer.from([0xff, 0xfe, 0, 1]) })
  await expect(page.getByText(/^this is neither an XLSX workbook nor a table in UTF-8/).first()).toBeVisible()
  const csv = 'Name;Group;c (mmol/L)\r\nFinch and Reed;1;615\r\nVale;two;610\r\n'
  await file.setInputFiles({ name: 'class.csv', mimeType: 'text/csv', buffer: Buffer.from(csv) })
  await expect(page.getByText('B: Group', { exact: true }).first()).toBeVisible()
  await expect(field(page, 'Unit of the column')).toHaveValue('mmol/L')
  await expect(read.getByText('cell B3: “two” has no number of a group')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Take in one result' })).toBeDisabled()
  const mended = csv.replace('two', '2')
  await file.setInputFiles({ name: 'class.csv', mimeType: 'text/csv', buffer: Buffer.from(mended) })
  await expect(read.getByRole('row', { name: 'row 3 group 2 610 mmol/L' })).toBeVisible()
  await page.getByRole('button', { name: 'Take in 2 results' }).press('Enter')
  await expect(page.getByRole('table', { name: 'Results' }).getByText('615 mmol/L')).toBeVisible()
  await expect(text).toBeVisible()
})

test('a wrong code says so, and many of them wait', async ({ browser, lab }) => {
  const stranger = await tablet(browser, lab.server.url, 'CCCCCC')
  await expect(stranger.getByText('a group with this code is not there')).toBeVisible()
  for (let i = 0; i < 6; i++) await stranger.request.post('/api/v1/class/sign-in', { data: { code: `CCCC${i}C` } })
  await expect(field(stranger, 'The code on your card')).toBeFocused()
  await stranger.keyboard.press('Enter')
  await expect(stranger.getByText(/Too many tries: wait/)).toBeVisible()
  await stranger.getByRole('link', { name: 'Sign in with a name instead' }).press('Enter')
  await expect(stranger.getByRole('heading', { name: 'Sign in' })).toBeVisible()
  await stranger.context().close()
})
