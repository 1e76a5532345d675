import { choose, expect, field, inSheet, record, signIn, test } from './bench'
import type { Page } from '@playwright/test'

test.use({ allow: [/422/] }) // the browser notes every refused request
test.beforeEach(async ({ page }) => signIn(page))

const read = async (page: Page, text: string, after: string) => {
  await record(page, 'Absorbance shown', text)
  await expect(inSheet(page).getByText(after)).toBeVisible()
}
const answer = (page: Page) => page.getByRole('complementary')
const sample = (page: Page, name: string) => answer(page).getByRole('region', { name, exact: true })

test('two dyes in one stream are told apart at two wavelengths, by keyboard, one reading again and one corrected', async ({
  page,
}) => {
  await page.goto('/absorbance')
  await page.getByRole('link', { name: 'Two substances' }).press('Enter')
  await expect(page.getByRole('combobox', { name: 'First substance' })).toBeFocused()
  await choose(page, 'First substance', 'Alder red, µmol/L')
  await expect(page.getByText('The newest lines: run 32, run 33, run 34, run 35.')).toBeVisible()
  await field(page, 'Name of sample 1').fill('Ditch')
  await page.getByRole('button', { name: 'Another sample' }).press('Enter')
  await field(page, 'Name of sample 2').fill('Mill race')
  await field(page, 'Diluted before, times').last().fill('0.5')
  await expect(page.getByText('it was diluted 1 time or more: 10 of a tenth')).toBeVisible()
  await field(page, 'Diluted before, times').last().fill('4')
  const slopes = answer(page).getByRole('table', { name: 'Slopes of the lines' })
  await expect(slopes.getByRole('row', { name: 'Alder red 0.00781 0.00185 µmol/L' })).toBeVisible()
  await expect(slopes.getByRole('row', { name: 'Pond blue 0.00134 0.0277 µmol/L' })).toBeVisible()
  await expect(
    answer(page).getByText(/^These wavelengths tell the two apart to 0\.96, where 1 is best\./),
  ).toBeVisible()
  await field(page, 'Name of sample 2').press('Enter')

  await expect(page.getByRole('heading', { name: 'Alder red and pond blue beside each other' })).toBeVisible()
  await expect(inSheet(page).getByText('Set 560 nm; with the blank in the cell set zero, then read it')).toBeVisible()
  await read(page, '0', 'Blank set to zero at 560 nm; it shows 0 AU')
  await read(page, '0.250', 'Ditch shows 0.250 AU at 560 nm')
  await read(page, '0.110', 'Mill race shows 0.110 AU at 560 nm')
  await read(page, '0', 'Blank set to zero at 590 nm; it shows 0 AU')
  await read(page, '0.300', 'Ditch shows 0.300 AU at 590 nm')
  await expect(sample(page, 'Ditch')).toBeVisible()
  await read(page, '66 %T', 'Mill race shows 66 %T at 590 nm')
  // 0.250 and 0.300 AU by Cramer’s rule with the slopes above, less the intercepts: 30.5 and 8.8 µmol/L.
  await expect(
    sample(page, 'Ditch')
      .getByText(/^30\.\d+/)
      .first(),
  ).toBeVisible()
  await expect(
    sample(page, 'Ditch')
      .getByText(/^8\.7\d+/)
      .first(),
  ).toBeVisible()
  await expect(sample(page, 'Mill race').getByText(/as it was read: 13\.\d+ ± 0\.\d+ µmol\/L/)).toBeVisible()
  await expect(
    answer(page).getByRole('img', { name: /^Ditch: Alder red 30\.\d+ ± 0\.\d+ µmol\/L, Pond blue 8\./ }),
  ).toBeVisible()

  await answer(page).getByRole('button', { name: 'Read Ditch once more at 560 nm' }).press('Enter')
  await expect(inSheet(page).getByText('Ditch, at 560 nm: reading 2 of 2')).toBeVisible()
  await read(page, '0.270', 'Ditch shows 0.270 AU at 560 nm')
  await expect(
    sample(page, 'Ditch')
      .getByText(/^31\.\d+/)
      .first(),
  ).toBeVisible()
  await answer(page)
    .getByRole('button', { name: /^Correct Ditch at 560 nm/ })
    .last()
    .press('Enter')
  const form = answer(page).locator('.correction')
  await form.getByLabel('Why').fill('misread')
  await form.getByLabel('Absorbance shown', { exact: true }).fill('0.252')
  await form.getByLabel('Absorbance shown', { exact: true }).press('Enter')
  await expect(
    sample(page, 'Ditch')
      .getByText(/^30\.\d+/)
      .first(),
  ).toBeVisible()

  await page.getByRole('button', { name: /Keep this result/ }).press('Enter')
  await expect(page.getByRole('heading', { name: 'Measured' })).toBeVisible()
  await page.reload()
  await sample(page, 'Mill race').getByRole('button').first().press('Enter')
  const working = page.getByRole('region', { name: /^Working: Alder red in mill race, before it was diluted/i })
  await expect(working.getByText('What both take out of the light at 560 nm')).toBeVisible()
  await expect(working.getByText('The sample before it was diluted')).toBeVisible()
})

test('without four lines the page says what to measure first', async ({ page }) => {
  await page.route('**/api/v1/lines', (route) => route.fulfill({ json: [] }))
  await page.goto('/mixtures')
  await expect(page.getByText('Each of the two needs a line of its own at the same two wavelengths')).toBeVisible()
  await page.getByRole('link', { name: 'Measure them' }).click()
  await expect(page).toHaveURL(/\/absorbance$/)
})
