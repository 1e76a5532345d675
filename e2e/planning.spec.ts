import { readFileSync } from 'node:fs'
import type { Page } from '@playwright/test'
import { choose, expect, field, signIn, test, unfold, withSession } from './bench'

// A session, its class and its files: what the walks of sessions and classes do not press.

test.use({ allow: [/404|409|422/] }) // the browser notes every refused request
test.beforeEach(({ page }) => signIn(page))

// Tuesday's class of the sample records.
const tuesday = '019a0000-0000-7000-8000-000000007000'

const button = (page: Page, name: string | RegExp) =>
  page.getByRole('button', { name, exact: typeof name === 'string' })
const toDo = (page: Page) => page.getByRole('table', { name: 'To do' })

/** What a link brings, without opening it. */
async function saved(page: Page, name: string) {
  const answer = await page.request.get((await page.getByRole('link', { name }).getAttribute('href'))!)
  expect(answer.ok(), name).toBe(true)
  return answer
}

/** A session of four groups in six days, kept; its ID. */
function session(page: Page, title: string): Promise<string> {
  const starts = new Date(Date.now() + 6 * 24 * 3600_000)
  starts.setHours(14, 0, 0, 0)
  return withSession(page, title, 4, starts)
}

test('people and tasks of one’s own: put in, moved, taken out', async ({ page }) => {
  const id = await session(page, 'Own tasks')
  await page.goto(`/sessions/${id}`)
  await expect(field(page, 'Title')).toHaveValue('Own tasks')
  const people = page.getByRole('button', { name: 'Take out', exact: true })
  const before = await people.count()
  await button(page, 'Add a person').click()
  await expect(people).toHaveCount(before + 1)
  await field(page, 'Name').last().fill('Linnet Vale')
  await unfold(page, 'Tasks of your own')
  await button(page, 'Add a task').click()
  await field(page, 'Task').fill('Fill the aspirators')
  await field(page, 'At the bench, min').fill('20')
  await field(page, 'Waiting, min').fill('30')
  await button(page, 'Add a task').click()
  await field(page, 'Task').nth(1).fill('Too much')
  await people.last().click()
  await expect(field(page, 'Task')).toHaveCount(1)
  const line = toDo(page).getByRole('row').filter({ hasText: 'Fill the aspirators' })
  await expect(line).toContainText('20 min, then 30 min of waiting')
  await button(page, /^Keep the changes/).click()
  await expect(button(page, /^Kept/)).toBeVisible()

  await line.getByRole('button', { name: 'Move' }).click()
  await field(page, 'Begins').fill('at dawn')
  await button(page, 'Put it there').click()
  await expect(toDo(page).locator('.problem').first()).toBeVisible()
  const day = new Date(Date.now() + 6 * 24 * 3600_000).toLocaleDateString('sv-SE')
  await field(page, 'Begins').fill(`${day} 09:10`)
  await button(page, 'Put it there').click()
  await expect(line).toContainText('09:10')
  await line.getByRole('button', { name: 'Move' }).click()
  await button(page, 'Back to the schedule').click()
  await expect(line).not.toContainText('09:10')
})

test('the files of a session, its place in a calendar, and how it is taken off', async ({ page }) => {
  const id = await session(page, 'Files')
  await page.goto(`/sessions/${id}`)
  for (const [name, type] of [
    ['Sheet for paper', 'application/pdf'],
    ['A card for each group', 'application/pdf'],
    ['Lists and readings as a workbook', 'spreadsheetml'],
    ['Tasks as a table', 'text/csv'],
  ] as const)
    expect((await saved(page, name)).headers()['content-type']).toContain(type)
  const download = page.waitForEvent('download')
  await button(page, 'The session as a file').click()
  expect(JSON.parse(readFileSync(await (await download).path(), 'utf8'))).toHaveProperty('session.title', 'Files')
  await page.getByRole('link', { name: 'The class: codes, tasks, results' }).click()
  await expect(page.getByRole('heading', { name: 'The class' })).toBeVisible()

  await page.goto('/sessions')
  expect(await (await saved(page, 'Calendar file')).text()).toContain('SUMMARY:Files')
  await unfold(page, 'In a calendar program')
  await button(page, 'Make a private address').click()
  const address = await page.locator('code.address').innerText()
  expect((await page.request.get(address)).ok()).toBe(true)
  await button(page, 'Withdraw address 1').click()
  await expect(page.getByRole('list', { name: 'Private addresses' })).toBeHidden()
  expect((await page.request.get(address)).status()).toBe(404)
  await button(page, 'Sessions that are over').click()
  await expect(page.getByRole('list', { name: 'Sessions that are over' })).toBeVisible()
  await button(page, 'Leave out what is over').click()
  await expect(page.getByRole('list', { name: 'Sessions that are over' })).toBeHidden()

  await page.goto(`/sessions/${id}`)
  await button(page, 'Take it off the plan…').click()
  await button(page, 'Take it off; its runs stay').click()
  await expect(page.getByRole('heading', { name: 'Sessions', exact: true })).toBeVisible()
  await expect(page.getByRole('link', { name: 'Files', exact: true })).toHaveCount(0)
})

test('a task with unknowns of its own; a sheet for one group more; a task taken off again', async ({ page }) => {
  const id = await session(page, 'Unknown acids')
  await page.goto(`/sessions/${id}`)
  await page.locator('summary', { hasText: 'Unknowns' }).click()
  await choose(page, 'From', 'one that is typed')
  await field(page, 'What is in them').fill('hydrochloric acid')
  await field(page, 'Strength of the stock').fill('1 mol/L')
  await field(page, 'From a strength of').fill('0.05 mol/L')
  await field(page, 'to').fill('0.2 mol/L')
  await field(page, 'A group gets').fill('50 mL')
  await field(page, 'The method finds it within ±, %').fill('one')
  await field(page, 'How many strengths').fill('3')
  await expect(page.getByText(/strengths, at least/)).toBeHidden()
  await field(page, 'The method finds it within ±, %').fill('1')
  await expect(page.getByText(/^3 strengths, at least/)).toBeVisible()
  await button(page, 'Make unknowns').click()
  await expect(page.getByRole('region', { name: 'Unknowns: hydrochloric acid' })).toContainText(
    '4 bottles of 3 strengths',
  )

  await page.goto(`/sessions/${id}/class`)
  await button(page, 'Open a sheet for each of the 4 groups').click()
  const grid = page.getByRole('table', { name: 'Groups and their tasks' })
  await expect(grid.getByRole('row')).toHaveCount(5)
  expect((await saved(page, 'Print the cards with their codes')).headers()['content-type']).toBe('application/pdf')
  await choose(page, 'They carry out', /acid from the old mill/i)
  await field(page, 'Title on their sheet, if another').fill('Their own acid')
  await field(page, 'Result in').fill('furlongs')
  await choose(page, 'Computed figures are shown', 'at once')
  await choose(page, 'Unknowns of their own', 'hydrochloric acid')
  await button(page, 'Give it out').click()
  await expect(
    page
      .locator('.task-fields .problem')
      .filter({ hasText: /furlongs|unit/ })
      .first(),
  ).toBeVisible()
  await field(page, 'Result in').fill('mol/L')
  await button(page, 'Give it out').click()
  await expect(grid.getByText('Their own acid')).toBeVisible()
  await button(page, 'Take off').click()
  await expect(grid.getByText('Their own acid')).toHaveCount(0)

  await page.goto(`/sessions/${id}`)
  await expect(field(page, 'Groups')).toHaveValue('4')
  await field(page, 'Groups').fill('5')
  await button(page, /^Keep the changes/).click()
  await expect(button(page, /^Kept/)).toBeVisible()
  await page.goto(`/sessions/${id}/class`)
  await button(page, 'Open a sheet for 1 more').click()
  await expect(grid.getByRole('row')).toHaveCount(6)
  await unfold(page, 'Give the groups a task')
  await expect(page.getByRole('button', { name: 'Give it out' })).toBeVisible()
})

test('results of a class: their files, the key, and a table with its columns named', async ({ page }) => {
  await page.goto(`/sessions/${tuesday}/class`)
  await page.getByRole('link', { name: 'Results' }).first().click()
  expect((await saved(page, 'A sheet back to each group')).headers()['content-type']).toBe('application/pdf')
  expect((await saved(page, 'The class as a workbook')).headers()['content-type']).toContain('spreadsheetml')
  await unfold(page, 'Results on paper or from a spreadsheet')
  await field(page, 'A line for each group: its number, then its result in mol/L or with its unit').fill('61')
  await expect(page.getByRole('table', { name: 'As they were read' })).toBeVisible()
  await expect(button(page, /^Take in/)).toBeDisabled()
  const csv = 'group;result\n1;0,0612\n2;0,0613\n'
  await page
    .getByLabel('Or a file, XLSX or CSV')
    .setInputFiles({ name: 'results.csv', mimeType: 'text/csv', buffer: Buffer.from(csv) })
  const read = page.getByRole('table', { name: 'As they were read' })
  await expect(read.getByRole('row')).toHaveCount(2)
  await choose(page, 'Groups in column', /A/)
  await choose(page, 'Results in column', /A/)
  await expect(read.getByRole('row').first()).toHaveText(/group 1\s*1\s*$/)
  await choose(page, 'Results in column', /B/)
  await expect(read.getByRole('row').first()).toHaveText(/group 1\s*0,0612\s*$/)
  await page.getByText('The first row names the columns').click()
  await expect(read.getByRole('row')).toHaveCount(3)
  await expect(read.locator('.problem').first()).toBeVisible() // “group” is no number
  await button(page, 'Leave the file out').click()
  await expect(field(page, 'Groups in column')).toBeHidden()
})

test('a group at its tablet: its bench, its hand, its result and another one', async ({ page, browser, lab }) => {
  await page.goto(`/sessions/${tuesday}/class`)
  const grid = page.getByRole('table', { name: 'Groups and their tasks' })
  const code = await grid.getByRole('row').nth(1).getByRole('cell').nth(1).innerText()
  const context = await browser.newContext({ baseURL: lab.server.url })
  const group = await context.newPage()
  await group.goto('/class')
  await field(group, 'The code on your card').fill(code)
  await button(group, 'Open the sheet').click()
  await expect(group.getByRole('heading', { name: 'Group 1' })).toBeVisible()
  await button(group, 'Raise your hand').click()
  await button(group, 'Hand raised: take it down').click()
  await expect(button(group, 'Raise your hand')).toBeVisible()
  await group.getByRole('link', { name: 'Look at what you wrote down' }).first().click()
  await expect(group.getByRole('list', { name: 'Run sheet' })).toBeVisible()
  await group.goBack()
  await button(group, 'Hand in another result…').first().click()
  await field(group, 'A word on it, if you like').fill('the second flask')
  await button(group, 'Leave it as it is').click()
  await expect(field(group, 'A word on it, if you like')).toBeHidden()
  await button(group, 'Begin it again').first().click()
  await expect(group.getByRole('list', { name: 'Run sheet' })).toBeVisible()
  await context.close()
})
