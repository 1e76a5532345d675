import { choose, expect, field, inSheet, record, signIn, test } from './bench'

type Page = import('@playwright/test').Page

test.use({ allow: [/409|422/] }) // the browser notes every refused request
test.beforeEach(async ({ page, lab }) => {
  lab.plug(false)
  await signIn(page)
})

const potential = (pH: number) => (4.7 + (7 - pH) * 57.2).toFixed(1)

const read = (page: Page, pH: number) => record(page, 'Potential shown', potential(pH))

/** What the lab has is proposed; here both are typed. */
async function typedSample(page: Page) {
  await expect(page.getByRole('heading', { name: 'Which acid or base, and what is run in?' })).toBeVisible()
  await expect(page.getByText(/^bottle \d+: Potassium hydrogen phthalate/).first()).toBeVisible()
  await choose(page, 'Sample', 'not on the shelf: typed')
  await choose(page, 'Titrant', 'not on the shelf: typed')
}

test('the curve of an amino acid: the next addition is proposed, the fit finds constants and isoelectric point', async ({
  page,
}) => {
  await page.goto('/curves')
  await typedSample(page)
  await field(page, 'What it is called').fill('Pond glycine')
  await field(page, 'Formula of the acid or base').fill('C60')
  await field(page, 'About, mol/L').fill('0.05')
  await field(page, 'Volume of it, mL').fill('20')
  await page.getByRole('button', { name: /Take it to the bench/ }).click()
  await expect(page.getByText('“C60” is not known as one acid or base here')).toBeVisible()
  await field(page, 'Formula of the acid or base').fill('C2H6NO2Cl') // fully protonated, with as much acid
  await field(page, 'Formula of the titrant').fill('HCl')
  await page.getByRole('button', { name: /Take it to the bench/ }).click()
  await expect(page.getByText(/does nothing to Pond glycine/)).toBeVisible()
  await field(page, 'Formula of the titrant').fill('NaOH')
  await page.getByRole('button', { name: /Take it to the bench/ }).click()
  await expect(page.getByRole('heading', { name: /Curve of pond glycine/ })).toBeVisible()
  await page.getByRole('button', { name: '1 Done', exact: true }).press('1')
  await expect(field(page, 'Burette')).toBeFocused()
  await page.keyboard.type('0.00')
  await page.keyboard.press('Enter')
  await expect(inSheet(page).getByText('The pH before anything is added')).toBeVisible()

  // Glycine hydrochloride, 20 mL of 0.05 mol/L, with 0.1 mol/L base (pKa 2.35 and 9.78, Davies).
  const curve: [number, number][] = [
    [0, 1.94],
    [1, 2.0],
    [2, 2.07],
    [3, 2.15],
    [4, 2.25],
    [5, 2.35],
    [6, 2.47],
    [7, 2.62],
    [8, 2.83],
    [9, 3.19],
    [9.5, 3.53],
    [10, 5.96],
    [10.5, 8.4],
    [11, 8.75],
    [12, 9.11],
    [13, 9.35],
    [14, 9.54],
    [15, 9.72],
    [16, 9.89],
    [17, 10.08],
    [18, 10.3],
    [19, 10.58],
    [20, 10.93],
    [21, 11.24],
    [22, 11.45],
    [23, 11.6],
    [24, 11.7],
  ]
  for (const [i, [mL, pH]] of curve.entries()) {
    if (i > 0) {
      if (i === 1) await expect(inSheet(page).getByText(/Run in, and read the burette: to about 1.00 mL/)).toBeVisible()
      await record(page, 'Burette', mL.toFixed(2))
    }
    await read(page, pH)
  }
  await expect(field(page, 'Burette')).toBeFocused()
  await page.getByRole('button', { name: 'The curve is complete' }).first().press('Enter')
  await expect(page.getByRole('heading', { name: 'The curve is complete' })).toBeVisible()
  await page.reload()
  const gives = page.getByRole('complementary')
  await expect(gives.getByRole('button', { name: /isoelectric point: 6\.\d+ ± 0\.\d+ pH/ })).toBeVisible()
  await expect(gives.getByRole('button', { name: /0.0\d+ ± 0.0\d+ mol\/L/ })).toBeVisible()
  await expect(gives.getByText(/pKa 2; the library lists 9.7/)).toBeVisible()
  await page.getByRole('tab', { name: 'Off the curve' }).click()
  await expect(gives.getByRole('img', { name: 'What the fit leaves over' })).toBeVisible()
  await page.getByRole('tab', { name: 'Off the curve' }).press('ArrowLeft')
  await expect(page.getByRole('tab', { name: 'Species' })).toBeFocused()
  await expect(gives.getByRole('img', { name: 'Forms of what is titrated' }).locator('.line')).toHaveCount(3)
  await expect(gives.getByText(/ solid, .* amber, .* dotted; as predicted/)).toBeVisible()
  await page.getByRole('tab', { name: 'Species' }).press('ArrowLeft')
  await expect(gives.getByRole('img', { name: 'Lines of Gran' })).toBeVisible()
  await page.getByRole('tab', { name: 'Gran' }).press('ArrowLeft')
  await expect(page.getByRole('tab', { name: 'Derivative' })).toBeFocused()
  await expect(gives.getByRole('img', { name: 'Slope of the curve' })).toBeVisible()
  await expect(gives.getByRole('table', { name: 'Readings' }).getByRole('row')).toHaveCount(curve.length + 1)
  await page.keyboard.press('=')
  await expect(page.getByRole('region', { name: /Working/ })).toContainText('the full balance fitted to 27 readings')
})

test('an amino acid, protonated first, of unknown strength, with counted drops', async ({ page }) => {
  await page.goto('/curves')
  await typedSample(page)
  await field(page, 'What it is called').fill('Pond glycine')
  await field(page, 'Formula of the acid or base').fill('C2H5NO2')
  await field(page, 'About, mol/L').fill('')
  await field(page, 'Volume of it, mL').fill('20')
  await field(page, 'Formula of the titrant').fill('NaOH')
  await choose(page, 'It begins', 'fully protonated, with HCl')
  await choose(page, 'It comes from', 'counted drops')
  await field(page, 'Strength of the acid, mol/L').fill('0')
  await page.getByRole('button', { name: /Take it to the bench/ }).click()
  await expect(page.getByText('with a strong acid of known strength')).toBeVisible()
  await field(page, 'Strength of the acid, mol/L').fill('1')
  await page.getByRole('button', { name: /Take it to the bench/ }).click()
  await expect(page.getByRole('heading', { name: /Curve of pond glycine/ })).toBeVisible()
  await page.getByRole('button', { name: '1 Done', exact: true }).press('1')
  await expect(inSheet(page).getByText(/To its fully protonated form: \d\.\d\d mL of hydrochloric acid/)).toBeVisible()
  const acid = (mL: string) => record(page, 'Acid', mL)
  await acid('1.00')
  await expect(inSheet(page).getByText('The pH with 1.00 mL of acid')).toBeVisible()
  await read(page, 1.94)
  await page.getByRole('button', { name: 'One drop more, and read' }).press('1')
  await acid('0.05')
  await expect(inSheet(page).getByText('The pH with 1.05 mL of acid')).toBeVisible()
  await read(page, 1.9)
  await expect(
    page.getByText(/One drop more moved the pH by 0.04 only, to 1.9\d: it is fully protonated/),
  ).toBeVisible()
  await page.getByRole('button', { name: 'It is: go on' }).press('1')
  await expect(inSheet(page).getByText(/1.05 mL of acid, pH 1.9\d: fully protonated/)).toBeVisible()
  // No scale is read before drops.
  await expect(inSheet(page).getByText('The pH before anything is added')).toBeVisible()
  await read(page, 1.9)
  await expect(inSheet(page).getByText('Let it drip, and count: about 10')).toBeVisible()
  await expect(field(page, 'Drops')).toBeFocused()
  for (let i = 0; i < 12; i++) await page.keyboard.press('Space')
  await page.keyboard.press('Enter')
  await expect(inSheet(page).getByText('The pH after 0.60 mL')).toBeVisible()
  await page.reload()
  await expect(inSheet(page).getByText('The pH after 0.60 mL')).toBeVisible()
})
