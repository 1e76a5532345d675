import { expect, field, signIn, test, toTheLabel, weigh, withStandard } from './bench'

test.use({ allow: [/422/] }) // the browser notes every refused request
test.beforeEach(({ page }) => signIn(page))

test('taken out of a bottle until little is left; filters; labels for vials', async ({ page, context }) => {
  const bottle = await withStandard(page, 'sodium-chloride', 2.922, 2) // nobody else takes from it
  await page.goto('/shelf')
  await expect(page.getByRole('region', { name: /^Rack of run/ }).getByText('blank', { exact: true })).toHaveCount(1)
  await page.getByRole('button', { name: 'Label not printed' }).click()
  await expect(page.locator('.el-checkbox').first()).toBeVisible()
  const unprinted = await page.getByRole('checkbox').count() // other tests leave bottles too
  await page.getByRole('button', { name: 'Little left' }).click()
  await expect(page.getByRole('listitem').filter({ hasText: '30 of 500 mL' })).toBeHidden()
  await page.goto(`/shelf/${bottle}`)
  await expect(page.getByText('500 mL left of 500 mL')).toBeVisible()
  await field(page, 'Volume taken').fill('0.6 L')
  await field(page, 'What for').fill('group 1')
  await page.keyboard.press('Enter')
  await expect(page.getByText(/only (500|499\.\d) mL are left/)).toBeVisible()
  await field(page, 'Volume taken').fill('470')
  await page.keyboard.press('Enter')
  await expect(page.getByText('30 mL left of 500 mL')).toBeVisible()
  await expect(page.getByText('470 mL, group 1')).toBeVisible()

  await page.goto('/shelf')
  await page.getByRole('button', { name: 'Little left' }).click()
  await expect(page.getByText(/^30 of 500 mL/)).toBeVisible()
  await page.getByRole('listitem').filter({ hasText: '30 of 500 mL' }).locator('.el-checkbox').click()
  await page.getByRole('combobox', { name: 'Paper' }).focus()
  await page.keyboard.press('Enter')
  await page.getByRole('option', { name: 'A4, 65 for vials' }).click()
  await page.getByLabel('Of each').fill('8')
  const link = page.getByRole('link', { name: 'Print 8 labels' })
  const pdf = await page.request.get((await link.getAttribute('href'))!)
  expect(pdf.headers()['content-type']).toBe('application/pdf')
  const opened = context.waitForEvent('page')
  await link.click()
  await (await opened).close()
  await page.getByRole('button', { name: 'Label not printed' }).click()
  await expect(page.getByRole('checkbox')).toHaveCount(unprinted - 1)
})

test('more than the largest flask holds: batches, one after the other, poured together', async ({ page }) => {
  await page.goto('/standards')
  await field(page, 'How much').fill('2 L')
  const recipe = page.getByRole('complementary', { name: 'Recipe' })
  await expect(recipe.getByText('2 batches: 1000 + 1000 mL.')).toBeVisible()
  await expect(recipe.getByRole('list', { name: 'Batches' }).getByRole('listitem')).toHaveCount(2)
  await page.getByRole('button', { name: 'Take it to the bench' }).click()
  for (const [mass, batch] of [
    ['20.4222', 1],
    ['20.4300', 2],
  ] as const) {
    await expect(page.getByText(`, batch ${batch} of 2`)).toBeVisible()
    await weigh(page, mass)
    await page.getByRole('button', { name: 'Keep this mass' }).click()
    await toTheLabel(page)
    await page.keyboard.press('Enter')
    if (batch === 1) await page.getByRole('button', { name: 'Begin batch 2' }).click()
  }
  await page.getByRole('button', { name: 'Pour them together' }).click()
  await expect(page.getByText('2000 mL left of 2000 mL')).toBeVisible()
  await expect(page.getByRole('link', { name: /batch 1 of 2$/ })).toBeVisible()
  // the mean of 20.4222 g and 20.4300 g in a litre each, at 20.4 °C
  await expect(page.getByText(/^0\.10002/).first()).toBeVisible()
  await page.getByRole('link', { name: /batch 1 of 2$/ }).click()
  await expect(page.getByText(/No longer on the shelf: poured together with others, poured into bottle/)).toBeVisible()
})
