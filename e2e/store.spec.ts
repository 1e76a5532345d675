import type { Page } from '@playwright/test'
import { choose, expect, field, signIn, test, toTheLabel, weigh } from './bench'

test.use({ allow: [/422|409/] }) // the browser notes every refused request

const article = (page: Page, name: string) => page.getByRole('region', { name, exact: true })

/** Adds a substance with its first container, by keyboard. */
async function keep(page: Page, substance: string, amount: string, minimum = '') {
  await page.goto('/store')
  await page.getByRole('button', { name: 'Add to the store' }).click()
  await choose(page, 'Substance', substance)
  await expect(field(page, 'Name')).toHaveValue(substance)
  await field(page, 'Minimum, g').fill(minimum)
  await field(page, 'First container holds, g').fill(amount)
  await page.keyboard.press('Enter')
  await expect(article(page, substance)).toBeVisible()
}

test.beforeEach(async ({ page }) => signIn(page))

test('what is weighed comes out of the store, and a count by hand settles what is left', async ({ page }) => {
  await page.goto('/today')
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible()
  await page.keyboard.press('k')
  await expect(page.getByRole('heading', { name: 'Store' })).toBeVisible()
  await page.getByRole('button', { name: 'Add to the store' }).click()
  await expect(page.getByRole('combobox', { name: 'Substance' })).toBeFocused()
  await choose(page, 'Substance', 'Sodium chloride')
  await expect(field(page, 'Name')).toHaveValue('Sodium chloride')
  await field(page, 'Minimum, g').fill('a lot')
  await page.keyboard.press('Enter')
  await expect(page.getByText('Write a number, like 12.5')).toBeVisible()
  await field(page, 'Minimum, g').fill('100')
  await field(page, 'First container holds, g').fill('a spoonful')
  await page.keyboard.press('Enter')
  await expect(page.getByText(/“a spoonful”/)).toBeVisible()
  await field(page, 'First container holds, g').fill('0.25 kg')
  await field(page, 'Place').fill('cupboard 4')
  await page.keyboard.press('Enter')
  const salt = article(page, 'Sodium chloride')
  await expect(salt.getByRole('listitem')).toContainText(['250 gcupboard 4, not opened'])
  await expect(salt.getByRole('img', { name: '250 g; the minimum is 100 g' })).toBeVisible()

  await page.goto('/standards')
  await choose(page, 'What', /^Sodium chloride NaCl/)
  await field(page, 'How strong').fill('0.1 mol/L')
  await page.getByRole('button', { name: 'Take it to the bench' }).click()
  await weigh(page, '1.4610')
  await expect(page.getByText('On the target')).toBeVisible()
  await page.keyboard.press('1')
  await toTheLabel(page)
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: /^concentration: 0\.100/ })).toBeVisible()
  await page.goto('/store')
  await expect(salt.getByRole('listitem')).toContainText([/248\.5 gcupboard 4, opened \d{4}-\d\d-\d\d/])
  await salt.getByRole('button', { name: /History of container/ }).click()
  const past = salt.getByRole('list', { name: /History of container/ })
  await expect(past.getByRole('listitem')).toContainText([
    /sodium chloride, 0\.1 mol\/L took 1\.461 g/,
    'counted 250 g, as it came',
  ])

  await salt.getByRole('button', { name: /^Count container/ }).click()
  await expect(field(page, 'What it holds, g')).toBeFocused()
  await page.keyboard.type('-3')
  await page.keyboard.press('Enter')
  await expect(page.getByText('a container holds from nothing to 1000000 g')).toBeVisible()
  await field(page, 'What it holds, g').fill('90.5')
  await field(page, 'How it was counted').fill('by the balance')
  await page.keyboard.press('Enter')
  await expect(salt.getByText('90.5 g left, below the minimum of 100 g.')).toBeVisible()
  await expect(salt.getByText(/order 9\.5 g or more by/)).toBeVisible()
  await page.reload()
  await expect(
    page.getByRole('region', { name: 'To order' }).getByRole('row').filter({ hasText: 'Sodium chloride' }),
  ).toContainText('9.5 g')
  await page.goto('/today')
  await expect(
    page.getByRole('region', { name: 'To order' }).getByRole('row').filter({ hasText: 'Sodium chloride' }),
  ).toContainText('9.5 g or more')
})

test('a session that the store cannot supply is short days before, until a container comes in', async ({ page }) => {
  await keep(page, 'Potassium chloride', '5')
  await page.goto('/sessions/new')
  await field(page, 'Title').fill('Chloride in the outlet')
  const day = new Date()
  day.setDate(day.getDate() + 16)
  await field(page, 'Day').fill(day.toLocaleDateString('sv-SE'))
  await page.getByRole('button', { name: 'Add a liquid' }).click()
  await field(page, 'Liquid').fill('potassium chloride')
  await field(page, 'Strength').fill('0.1 mol/L')
  const supply = page.getByRole('complementary', { name: 'What it asks for' })
  await expect(
    supply.getByText(/Making it takes 7\.46 g of potassium chloride, and 5 g are in the store\./),
  ).toBeVisible()
  await page.getByRole('button', { name: 'Keep the session' }).click()
  await expect(page.getByRole('button', { name: 'Kept' })).toBeVisible()
  const session = page.url()
  await page.keyboard.press('Escape')
  await page.goto('/store')
  const chloride = article(page, 'Potassium chloride')
  await expect(
    chloride.getByText(/“Chloride in the outlet” on .* takes 7\.455 g, and 2\.455 g are missing: order by/),
  ).toBeVisible()
  await expect(chloride.getByRole('img', { name: '5 g, of which sessions take 7.46' })).toBeVisible()
  await chloride.getByRole('button', { name: 'Add a container of Potassium chloride' }).click()
  await expect(field(page, 'It holds, g')).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(chloride.getByText('nothing written: write a number and its unit, like 12.5 g')).toBeVisible()
  await field(page, 'It holds, g').fill('500')
  await page.keyboard.press('Enter')
  await expect(chloride.getByText(/are missing/)).toHaveCount(0)
  await expect(chloride.getByText('505 g', { exact: true })).toBeVisible()
  await page.goto(session)
  await expect(page.getByText('Make it: 1 L.')).toBeVisible()
})

test('places, days and names are changed where they stand; what two change at once is not lost', async ({ page }) => {
  await page.goto('/store')
  const sachets = article(page, 'Buffer sachets, pH 9.21')
  await expect(sachets.getByText(/Container \d+ expired on/)).toBeVisible()
  await page.getByRole('button', { name: 'Expired' }).click()
  await expect(page.getByRole('region', { name: /Buffer sachets, pH 7/ })).toHaveCount(0)
  await sachets
    .getByRole('button', { name: /^Count container/ })
    .last()
    .click()
  await field(page, 'What it holds, pieces').fill('1.5')
  await page.keyboard.press('Enter')
  await expect(page.getByText('pieces are counted whole')).toBeVisible()
  await field(page, 'What it holds, pieces').fill('0')
  await page.keyboard.press('Enter')
  await expect(page.getByText('Nothing has expired.')).toBeVisible()
  await page.getByRole('button', { name: 'All', exact: true }).click()
  await sachets.getByRole('button', { name: /^Change container/ }).click()
  await expect(field(page, 'Place')).toBeFocused()
  await field(page, 'Place').fill('drawer 6')
  await field(page, 'Expires on').fill('next year')
  await page.keyboard.press('Enter')
  await expect(page.getByText('a day, like 2027-03-31, or nothing')).toBeVisible()
  await field(page, 'Expires on').fill('2031-01-31')
  await page.keyboard.press('Enter')
  await expect(sachets.getByText('drawer 6, not opened, expires 2031-01-31')).toBeVisible()
  await page.keyboard.press('/')
  await page.keyboard.type('drawer 6')
  await expect(page.getByRole('heading', { level: 2 })).toHaveText(['To order', 'Buffer sachets, pH 9.21'])
  await page.getByRole('searchbox').fill('')

  // The same article, changed by somebody else meanwhile.
  await sachets.getByRole('button', { name: 'Change Buffer sachets, pH 9.21' }).click()
  await field(page, 'Minimum, pieces').fill('6')
  const [found] = (
    (await (await page.request.get('/api/v1/store')).json()) as { id: string; article: object; version: number }[]
  ).filter((a) => JSON.stringify(a).includes('pH 9.21'))
  const { id, version } = found!
  const other = { article: { ...found!.article, leadDays: 9 }, version }
  expect((await page.request.put(`/api/v1/store/articles/${id}`, { data: other })).status()).toBe(204)
  await page.getByRole('button', { name: 'Keep it' }).click()
  await expect(page.getByText('this article was changed meanwhile: look at it, then change it again')).toBeVisible()
  await expect(field(page, 'Minimum, pieces')).toHaveValue('6')
  await page.reload()
  await sachets.getByRole('button', { name: 'Change Buffer sachets, pH 9.21' }).click()
  await expect(field(page, 'An order takes, days')).toHaveValue('9')
  await page.getByRole('button', { name: 'Take it off the list' }).click()
  await expect(sachets).toHaveCount(0)
})
