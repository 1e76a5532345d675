import { choose, expect, field, inSheet, signIn, test, withBottle } from './bench'

type Page = import('@playwright/test').Page

test.use({ allow: [/409|422/] }) // the browser notes every refused request
test.beforeEach(async ({ page }) => {
  await signIn(page)
  await withBottle(page, 'lye')
})

/** Counts drops by the space bar, and records them. */
async function drip(page: Page, count: number) {
  await expect(field(page, 'Drops')).toBeFocused()
  for (let i = 0; i < count; i++) await page.keyboard.press('Space')
  await expect(field(page, 'Drops')).toHaveValue(String(count))
  await page.keyboard.press('Enter')
}

async function caught(page: Page, mL: string) {
  await expect(field(page, 'Cylinder')).toBeFocused()
  await page.keyboard.type(mL)
  await page.keyboard.press('Enter')
}

test('a tip is calibrated by counting, and a titration in its drops depends on it', async ({ page }) => {
  await page.goto('/drops')
  await expect(page.getByRole('heading', { name: 'How large is a drop from this tip?' })).toBeVisible()
  await field(page, 'Tip').fill('')
  await field(page, 'Tip').press('Enter')
  await expect(page.getByText('say which, in at most 60 letters')).toBeVisible()
  await field(page, 'Tip').fill('Dropper of table 4')
  await choose(page, 'Caught', 'in a cylinder, read')
  await choose(page, 'Cylinder', '10 mL')
  await page.getByRole('button', { name: /Count drops/ }).click()
  await expect(inSheet(page).getByText(/Count 1: let drops of water fall into an empty, dry cylinder/)).toBeVisible()
  await drip(page, 22)
  await caught(page, '1.10')
  await expect(inSheet(page).getByText('Count 1: 22 drops, 1.10 mL: 0.0500 mL each')).toBeVisible()
  await field(page, 'Drops').fill('30')
  await page.keyboard.press('Enter')
  await caught(page, '1.60')
  await expect(page.getByText(/The counts lie 6.5 % apart, more than 3 %/).first()).toBeVisible()
  await field(page, 'Drops').fill('40')
  await page.keyboard.press('Enter')
  await caught(page, '2.08')
  await page
    .getByRole('button', { name: /Enough counts/ })
    .first()
    .click()
  await expect(page.getByRole('heading', { name: 'The tip is calibrated' })).toBeVisible()
  await page.reload()
  const gives = page.getByRole('complementary')
  await expect(gives.getByRole('button', { name: /volume of a drop: 0.05\d+ ± 0.00\d+ mL/ })).toBeVisible()
  await expect(gives.getByRole('table', { name: 'Counts' }).getByRole('row')).toHaveCount(4)
  await page.keyboard.press('=')
  await expect(page.getByRole('region', { name: /Working/ })).toContainText('Volume of a drop')

  await page.goto('/titrations')
  await choose(page, 'Titration', 'Sodium hydroxide against potassium hydrogen phthalate')
  await choose(page, 'To find', /standardise it/)
  await choose(page, 'It comes from', 'counted drops')
  await choose(page, 'Dropper', /Dropper of table 4: 0.05/)
  await choose(page, 'Sample taken', 'by pipette')
  await choose(page, 'Sample', /^bottle 1: Potassium hydrogen phthalate/) // other tests make more
  await field(page, 'Volume, mL each').fill('5')
  await expect(page.getByText(/\d+ drops \(5\.0 mL\)/)).toBeVisible()
  await page.getByRole('button', { name: /Take it to the bench/ }).click()
  await page.getByRole('button', { name: /Rinsed three times/ }).press('1')
  await expect(page.getByRole('button', { name: '1 Done', exact: true })).toBeFocused()
  await page.keyboard.press('1')
  await expect(inSheet(page).getByText('Trial 1, rough: let it drip, and count until you stop')).toBeVisible()
  await field(page, 'Drops').fill('100')
  await page.keyboard.press('Enter')
  // Unsure: one drop more, looked at, and it was there before.
  await page.getByRole('button', { name: 'Unsure: one drop more' }).click()
  await expect(inSheet(page).getByText('Trial 1, rough: one drop more')).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(inSheet(page).getByText('Trial 1, rough: stopped after 101 drops')).toBeVisible()
  await page.getByRole('button', { name: 'The reading before was it' }).click()
  for (const drops of ['98', '99']) {
    await expect(page.getByRole('button', { name: '1 Done', exact: true })).toBeFocused()
    await page.keyboard.press('1')
    await expect(field(page, 'Drops')).toBeFocused()
    await page.keyboard.type(drops)
    await page.keyboard.press('Enter')
    await page.getByRole('button', { name: 'That was the end point' }).press('1')
  }
  const trials = page.getByRole('table', { name: /Trials/ })
  await expect(trials.getByRole('row', { name: /^drops/ })).toContainText('100')
  await expect(trials.getByRole('row', { name: /^drops/ })).toContainText('99')
  await page
    .getByRole('button', { name: /Enough trials/ })
    .first()
    .click()
  await expect(page.getByRole('heading', { name: 'Titrated' })).toBeVisible()
  await page.reload()
  await expect(page.getByRole('img', { name: '99 drops' })).toBeVisible()
  await page.getByRole('button', { name: /mean titre/ }).click()
  await expect(page.getByRole('region', { name: /Working/ })).toContainText('from Dropper of table 4')
})

test('a link opens a titration for a class, with a word to it, in a syringe', async ({ page }) => {
  await page.goto('/titrations')
  await choose(page, 'Titration', 'Sodium hydroxide against potassium hydrogen phthalate')
  await choose(page, 'To find', /standardise it/)
  await choose(page, 'It comes from', 'a syringe')
  await choose(page, 'Size', '20 mL')
  await choose(page, 'Sample taken', 'by pipette')
  await field(page, 'Volume, mL each').fill('10')
  await field(page, 'A word to them, beside the usual cautions').fill('Waste into the beaker by the sink.')
  await page.getByRole('button', { name: 'A link for a class' }).click()
  const link = await page.getByLabel('Link for a class').inputValue()
  // Another question in between, and then the link: it is as it was.
  await choose(page, 'Titration', 'Iron(II) with permanganate')
  await field(page, 'Volume, mL each').fill('25')
  await page.goto(link.replace('device=syringe', 'device=teapot'))
  await expect(page.getByText('This question came with a link')).toBeVisible()
  await expect(page.getByRole('combobox', { name: 'It comes from' })).toBeVisible() // and it is one of those there are
  await page.goto('/titrations')
  await expect(field(page, 'Volume, mL each')).toHaveValue('25') // nothing of a link is kept
  await page.goto(link)
  await expect(field(page, 'Volume, mL each')).toHaveValue('10')
  await expect(page.getByText(/phenolphthalein/).first()).toBeVisible()
  await page.getByRole('button', { name: /Take it to the bench/ }).click()
  // The word stands behind the cautions, as what it is.
  const cautions = inSheet(page).getByText(/A word from whoever planned this: “Waste into the beaker by the sink.”/)
  await expect(cautions).toBeVisible()
  await page.getByRole('button', { name: /Rinsed twice/ }).press('2')
  await expect(page.getByRole('button', { name: '1 Done', exact: true })).toBeFocused()
  await page.keyboard.press('1')
  const syringe = async (mL: string) => {
    await expect(field(page, 'Syringe')).toBeFocused()
    await page.keyboard.type(mL)
    await page.keyboard.press('Enter')
  }
  await expect(inSheet(page).getByText(/read the syringe before it begins/)).toBeVisible()
  await syringe('18.0')
  await expect(inSheet(page).getByText(/run it in, and read when you stop/)).toBeVisible()
  await syringe('7.8')
  await expect(page.getByRole('img', { name: 'Syringe at 7.80 mL' })).toBeVisible()
  await page.getByRole('button', { name: 'That was the end point' }).press('1')
  await expect(page.getByRole('table', { name: /Trials/ }).getByRole('row', { name: /^mL/ })).toContainText('10.2')
})
