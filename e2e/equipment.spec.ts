import { readFileSync } from 'node:fs'
import type { Page } from '@playwright/test'
import { another, choose, expect, field, signIn, test } from './bench'

// What the lab owns, who works in it, and what it keeps: every field and button of the setup, the store, the shelf.

test.use({ allow: [/401|409|422/] }) // the browser notes every refused request
test.beforeEach(({ page }) => signIn(page))

const button = (page: Page, name: string | RegExp) =>
  page.getByRole('button', { name, exact: typeof name === 'string' })
const row = (page: Page, text: string | RegExp) => page.getByRole('row').filter({ hasText: text })

test('a balance is added by its data sheet, and a check that it fails is told', async ({ page }) => {
  await page.goto('/setup/balances')
  await field(page, 'Name').fill('Heron')
  await field(page, 'Weighs up to, g').fill('320')
  await field(page, 'Last digit, g').fill('0.001')
  await field(page, 'Repeatability, g').fill('0.001')
  await field(page, 'Linearity ±, g').fill('two')
  await button(page, 'Add it').click()
  await expect(page.getByRole('alert')).toBeVisible()
  await field(page, 'Linearity ±, g').fill('0.002')
  await button(page, 'Add it').click()
  await expect(row(page, 'Heron').getByRole('cell')).toContainText([
    'Heron',
    '320',
    '0.001',
    '0.001',
    '0.002',
    '–',
    'none yet',
  ])

  await button(page, 'Check Heron').click()
  await field(page, 'Check weight, g').fill('200')
  await field(page, 'known within ±, g').fill('0.001')
  await field(page, 'The balance shows, g').fill('200.02')
  await button(page, 'Record the check').click()
  await expect(page.getByRole('list', { name: 'Checks' }).getByRole('listitem')).toContainText([
    /^Failed: 200\.02 g for a weight of 200 g/,
  ])
  await expect(row(page, 'Heron').first()).toContainText('failed')
  await field(page, 'The balance shows, g').fill('200.001')
  await button(page, 'Record the check').click()
  await expect(page.getByRole('list', { name: 'Checks' }).getByRole('listitem')).toContainText([
    /^Passed: 200\.001 g/,
    /^Failed/,
  ])
  await button(page, 'Check Heron').click() // closes it
  await expect(page.getByRole('list', { name: 'Checks' })).toBeHidden()
})

test('a pH meter is added by its data sheet, and changed in its place', async ({ page }) => {
  await page.goto('/setup/meters')
  await field(page, 'Name').fill('Wren')
  await field(page, 'Probe').fill('gel 7')
  await choose(page, 'It shows', 'pH only')
  await field(page, 'Last digit, pH').fill('0.01')
  await field(page, 'Repeatability, mV').fill('0.3')
  await field(page, 'Thermometer ±, °C').fill('0.5')
  await button(page, 'Add it').click()
  await expect(row(page, 'Wren').getByRole('cell')).toContainText(['Wren', 'gel 7', '0.01 pH', '0.3', '0.5'])
  await button(page, 'Change Wren').click()
  await field(page, 'Probe that hangs on it').fill('gel 8')
  await button(page, 'Keep this').click()
  await expect(row(page, 'Wren')).toContainText(['gel 8'])
})

test('glass of a kind and class is listed by its standard', async ({ page }) => {
  await page.goto('/setup/glass')
  await button(page, 'Add glass').click()
  await choose(page, 'Kind', 'one-mark pipette')
  await field(page, 'Volume, mL').fill('20')
  await choose(page, 'Class', 'B')
  await field(page, 'How many').fill('4')
  await button(page, 'Add it').click()
  // ISO 648: 0.03 mL for 20 mL of class A, and twice that in class B
  await expect(row(page, /^20B0\.0604/)).toHaveCount(1)
})

test('a substance of one’s own with everything on its sheet; a system with two protons', async ({ page }) => {
  await page.goto('/setup/substances')
  await button(page, 'Add a substance').click()
  await field(page, 'Name').fill('Pond blue')
  await field(page, 'Formula').fill('C16H18ClN3S')
  await field(page, 'Solubility, g in 100 mL at 20 °C').fill('4.4')
  await field(page, 'Drying').fill('2 h at 105 °C')
  await choose(page, 'Signal word', 'Warning')
  await field(page, 'Hazard statements').fill('H302')
  await field(page, 'Source of these values').fill('our data sheet')
  await page.getByText('takes up water or carbon dioxide from the air').click()
  await button(page, 'Add it').click()
  await page.keyboard.press('/')
  await expect(page.getByRole('searchbox', { name: 'Search /' })).toBeFocused()
  await page.keyboard.type('pond')
  await expect(page.getByRole('row')).toHaveCount(2)
  await expect(row(page, 'Pond blue')).toContainText('319.85') // g/mol, of C16H18ClN3S
  await expect(row(page, 'Pond blue')).toContainText('Warning H302')

  await page.goto('/setup/systems')
  await button(page, 'Add a system').click()
  await field(page, 'Acid').fill('pond acid')
  await field(page, 'Its base').fill('pondate')
  await field(page, 'Formula with all its protons').fill('C4H6O4')
  await field(page, 'pKa 1').fill('4.2')
  await button(page, 'Another proton').click()
  await field(page, 'pKa 2').fill('5.6')
  await button(page, 'Another proton').click()
  await button(page, 'Take pKa 3 away').click()
  await expect(field(page, 'pKa 3')).toBeHidden()
  await field(page, 'Enthalpy, kJ/mol').nth(0).fill('3.2')
  await field(page, 'Heat capacity, J/(mol·K)').nth(1).fill('-200')
  await field(page, 'Source of these values').fill('our handbook')
  await button(page, 'Add it').click()
  await page.keyboard.press('/')
  await expect(page.getByRole('searchbox', { name: 'Search /' })).toBeFocused()
  await page.keyboard.type('pond acid')
  await expect(page.getByRole('row')).toHaveCount(2)
  await expect(row(page, 'our handbook')).toContainText(/4\.2.*5\.6/)
  // What was left out of the form does not come back, and what was typed does.
  await button(page, 'Correct Pondate').click()
  await expect(field(page, 'Enthalpy, kJ/mol').first()).toHaveValue('3.2')
  await expect(field(page, 'Heat capacity, J/(mol·K)').nth(1)).toHaveValue('-200')
})

test('rules of the lab: its name, its flasks, the buoyancy of the air', async ({ page }) => {
  const settings = await (await page.request.get('/api/v1/settings')).json()
  await page.goto('/setup/rules')
  await field(page, 'Name of the lab, for labels').fill('Pond room')
  await choose(page, 'Flasks, unless said otherwise', 'class B, for teaching')
  await page.getByText('correct masses for the buoyancy of the air').click()
  await button(page, 'Apply').click()
  await expect(page.getByText('The rules apply to new plans.')).toBeVisible()
  const now = await (await page.request.get('/api/v1/settings')).json()
  expect(now).toMatchObject({ labName: 'Pond room', flaskClass: 'B', buoyancy: !settings.buoyancy })
  await page.reload()
  await expect(field(page, 'Name of the lab, for labels')).toHaveValue('Pond room')
  await field(page, 'Name of the lab, for labels').fill(settings.labName)
  await choose(page, 'Flasks, unless said otherwise', 'class A, for standards')
  await page.getByText('correct masses for the buoyancy of the air').click()
  await button(page, 'Apply').click()
  await expect(page.getByText('The rules apply to new plans.')).toBeVisible()
  const { labName, flaskClass, buoyancy } = await (await page.request.get('/api/v1/settings')).json()
  expect({ labName, flaskClass, buoyancy }).toEqual({
    labName: settings.labName,
    flaskClass: settings.flaskClass,
    buoyancy: settings.buoyancy,
  })
})

test('an account is made, closed, opened, raised; its owner changes the password and signs out everywhere', async ({
  page,
  browser,
  baseURL,
}) => {
  await page.goto('/setup/people')
  await field(page, 'Name').fill('Linnet Vale')
  await field(page, 'Initials for the record').fill('LV')
  await field(page, 'Sign-in name').fill('vale')
  await field(page, 'First password').fill('pond-water-week')
  await choose(page, 'Role', 'assistant')
  await button(page, 'Make it').click()
  const vale = row(page, 'Linnet Vale')
  await expect(vale).toContainText('assistant')
  await vale.getByRole('button', { name: 'Close the account' }).click()
  await expect(vale).toContainText('assistant, closed')
  const refused = await page.request.post('/api/v1/session', { data: { login: 'vale', password: 'pond-water-week' } })
  expect(refused.status()).toBe(401)
  await vale.getByRole('button', { name: 'Open it again' }).click()
  await expect(vale).not.toContainText('closed')
  await vale.getByRole('button', { name: 'Make instructor' }).click()
  await expect(vale).toContainText('instructor')
  await vale.getByRole('button', { name: 'Make assistant' }).click()
  await expect(vale.getByRole('button', { name: 'Make instructor' })).toBeVisible()

  const one = await another(browser, baseURL!, 'vale')
  const two = await another(browser, baseURL!, 'vale')
  await one.goto('/today')
  await button(one, /On the record/).click()
  await button(one, 'Change your password…').click()
  await field(one, 'Your password now').fill('pond-water-weak')
  await field(one, 'The new one, at least 10 characters').fill('duckweed and rush')
  await button(one, 'Change it').click()
  await expect(one.getByRole('alert')).toBeVisible()
  await field(one, 'Your password now').fill('pond-water-week')
  await button(one, 'Change it').click()
  await expect(field(one, 'Your password now')).toBeHidden()
  expect((await two.request.get('/api/v1/session')).status()).toBe(401) // signed out there
  const again = await two.request.post('/api/v1/session', { data: { login: 'vale', password: 'duckweed and rush' } })
  expect(again.ok()).toBe(true)

  await one.goto('/today')
  await button(one, /On the record/).click()
  await button(one, 'Where you are signed in…').click()
  await expect(one.getByRole('list', { name: 'Where you are signed in' }).getByRole('listitem')).toHaveCount(2)
  await button(one, 'Sign out everywhere').click()
  await expect(one.getByRole('heading', { name: 'Sign in' })).toBeVisible()
  expect((await two.request.get('/api/v1/session')).status()).toBe(401)
  await one.getByRole('link', { name: 'A group’s code instead' }).click()
  await expect(one).toHaveURL(/\/class$/)
  await one.context().close()
  await two.context().close()
})

test('the bench strip: a session by name, another balance, another pH meter', async ({ page }) => {
  await page.goto('/today')
  await button(page, /^Session/).click()
  await field(page, 'Session or task').fill('Thursday, pond water')
  await button(page, 'Put it on Enter').click()
  await expect(button(page, /^Session.*Thursday, pond water/)).toBeVisible()
  await button(page, /^Balance/).click()
  await button(page, /^Moss, /).click()
  await expect(button(page, /^Balance.*Moss 10 mg/)).toBeVisible()
  await button(page, /^Balance/).click()
  await button(page, /^Fern, /).click()
  await expect(button(page, /^Balance.*Fern 0\.1 mg/)).toBeVisible()
  await button(page, /^pH meter/).click()
  await button(page, /^Wren, /).click()
  await expect(button(page, /^pH meter.*Wren/)).toBeVisible()
})

test('the store: units, a second container, its opening and its days, counted and looked back on', async ({ page }) => {
  await page.goto('/store')
  await button(page, 'Add to the store').click()
  await choose(page, 'Substance', 'Sodium hydroxide')
  await choose(page, 'Counted in', 'g')
  await field(page, 'Minimum, g').fill('500')
  await field(page, 'First container holds, g').fill('250')
  await field(page, 'Expires, if a day is given').fill('2031-03-31')
  await button(page, 'Add it').click()
  const lye = page.getByRole('region', { name: 'Sodium hydroxide', exact: true })
  await expect(lye.getByRole('listitem')).toHaveCount(1)
  await button(page, 'Leave it').click() // what is added to the store next
  await button(page, 'Add a container of Sodium hydroxide').click()
  await field(page, 'It holds, g').fill('500')
  await lye.getByLabel('Place').fill('cupboard 2')
  await field(page, 'Opened on, if it is open').fill('2026-11-40')
  await button(page, 'Add it').click()
  await expect(lye.getByText('a day, like 2027-03-31, or nothing')).toBeVisible()
  await field(page, 'Opened on, if it is open').fill('2026-11-20')
  await button(page, 'Add it').click()
  await expect(lye.getByRole('listitem')).toHaveCount(2)
  await expect(lye.getByRole('listitem').nth(1)).toContainText('cupboard 2, opened 2026-11-20')

  const second = lye.getByRole('listitem').nth(1)
  await second.getByRole('button', { name: /^Change container/ }).click()
  await field(page, 'Expires on').fill('2030-01-31')
  await button(page, 'Keep it').click()
  await expect(field(page, 'Expires on')).toBeHidden()
  await expect(second).toContainText('2030-01-31')
  await second.getByRole('button', { name: /^Count container/ }).click()
  await field(page, 'What it holds, g').fill('420')
  await field(page, 'How it was counted').fill('weighed with the lid')
  await button(page, 'Keep the count').click()
  await expect(second).toContainText('420 g')
  await second.getByRole('button', { name: /^History of container/ }).click()
  await expect(second.getByRole('list')).toContainText('counted 420 g, weighed with the lid')

  await button(page, 'Change Sodium hydroxide').click()
  await field(page, 'Minimum, g').fill('1000')
  await button(page, 'Keep it').click()
  const orders = page.getByRole('region', { name: 'To order' })
  await expect(orders.getByRole('row').filter({ hasText: 'Sodium hydroxide' })).toBeVisible()
  const href = await orders.getByRole('link', { name: 'This list as a table' }).getAttribute('href')
  expect(await (await page.request.get(href!)).text()).toContain('Sodium hydroxide')
  await page.getByRole('searchbox', { name: 'Search /' }).fill('hydroxide')
  await expect(page.getByRole('region', { name: /hydroxide/ })).toHaveCount(1)
})

test('the logbook by person and as files; labels on sheets; the way back from a page that is not there', async ({
  page,
}) => {
  await page.goto('/logbook')
  await expect(page.getByRole('row').nth(1)).toBeVisible()
  await page.keyboard.press('/')
  await expect(page.getByRole('searchbox', { name: 'Search /' })).toBeFocused()
  await choose(page, 'Person', 'RA')
  await expect(page.getByRole('cell', { name: 'JT', exact: true })).toHaveCount(0)
  const csv = await page.request.get((await page.getByRole('link', { name: 'Table as CSV' }).getAttribute('href'))!)
  expect(csv.url()).toContain('person=RA') // what is shown is what is saved
  const lines = (await csv.text()).trim().split('\n')
  expect(lines.length).toBeGreaterThan(5)
  const records = page.getByRole('link', { name: 'All records as JSON' })
  expect(await (await page.request.get((await records.getAttribute('href'))!)).json()).toHaveProperty('runs')
  await page.goto('/setup/records')
  const book = page.getByRole('link', { name: 'the logbook as CSV' })
  expect(
    (await (await page.request.get((await book.getAttribute('href'))!)).text()).split('\n').length,
  ).toBeGreaterThan(lines.length)

  await page.goto('/shelf')
  const first = page.getByRole('checkbox', { name: /^Label for bottle/ }).first()
  await first.locator('..').locator('..').click()
  await choose(page, 'Paper', 'A4, 10 labels')
  await field(page, 'First free place').fill('3')
  const sheet = page.getByRole('link', { name: 'Print 1 label', exact: true })
  expect(await sheet.getAttribute('href')).toMatch(/start=3/)
  await page.locator('a.card').first().click()
  for (const [name, format] of [
    ['on an A4 sheet', 'a4'],
    ['on a Letter sheet', 'letter'],
  ] as const) {
    const href = (await page.getByRole('link', { name }).getAttribute('href'))!
    expect(href).toContain(format)
    expect((await page.request.get(href)).headers()['content-type']).toBe('application/pdf')
  }
  await page.getByRole('link', { name: 'several, or for vials' }).click()
  await expect(page.getByRole('heading', { name: 'Shelf' })).toBeVisible()

  await page.goto('/nowhere')
  await page.getByRole('link', { name: 'Look on the shelf' }).click()
  await expect(page.getByRole('heading', { name: 'Shelf' })).toBeVisible()
  await page.goto('/nowhere')
  await page.getByRole('link', { name: 'go to Today' }).click()
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible()
})

test('what a finished run gives away, and how a mass came about', async ({ page, lab }) => {
  const of = (kind: string) =>
    lab.database.sql(
      `SELECT r.id FROM runs r JOIN plans p ON p.id = r.plan_id WHERE p.kind = '${kind}' AND r.status = 'finished' LIMIT 1`,
    )
  await page.goto(`/runs/${of('titration')}`)
  const sheet = await page.request.get((await page.getByRole('link', { name: 'as XLSX' }).getAttribute('href'))!)
  expect(sheet.headers()['content-type']).toContain('spreadsheetml')
  await page.goto(`/runs/${of('scan')}`)
  const spectrum = page.waitForEvent('download')
  await button(page, 'JCAMP-DX, plain figures').click()
  expect(readFileSync(await (await spectrum).path(), 'utf8')).toMatch(/##JCAMP-DX=/)
  await page.goto('/standards')
  await expect(page.getByText('5.1056')).toBeVisible()
  await button(page, 'Take it to the bench').click()
  await button(page, 'How the mass to weigh came about').click()
  await expect(page.getByRole('region', { name: /^Working/ })).toContainText('204.22')
})

test('the list of keys opens and closes', async ({ page }) => {
  await page.goto('/standards')
  await expect(page.getByText('5.1056')).toBeVisible()
  await page.getByRole('heading', { level: 1 }).click()
  await page.keyboard.press('?')
  await button(page, 'Close Esc').click()
  await expect(button(page, 'Close Esc')).toBeHidden()
})
