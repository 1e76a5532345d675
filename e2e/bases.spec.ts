import { expect, field, makeUp, signIn, test, weigh } from './bench'

test.use({ allow: [/422/] }) // the browser notes every refused request
test.beforeEach(async ({ page }) => {
  await signIn(page)
  await page.goto('/standards')
})

async function choose(page: import('@playwright/test').Page, list: string, text: string) {
  await page.getByRole('combobox', { name: list }).click()
  await page.keyboard.type(text)
  await page.keyboard.press('Enter')
}

test('an ion of the salt, and gram per litre told from mole per litre', async ({ page }) => {
  await choose(page, 'What', 'copper(II) sulf')
  await choose(page, 'Of', 'Cu')
  await field(page, 'How strong').fill('0.1 g/L')
  const recipe = page.getByRole('complementary', { name: 'Recipe' })
  await expect(
    recipe.getByText('0.1 g/L of Cu is 0.00157 mol/L. If 0.1 mol/L was meant, that is 6.35 g/L.'),
  ).toBeVisible()
  await recipe.getByRole('button', { name: 'I meant 0.1 mol/L' }).click()
  await expect(field(page, 'How strong')).toHaveValue('0.1 mol/L')
  await expect(recipe.getByText('6.2419')).toBeVisible() // 0.025 mol of 249.677 g/mol
  await choose(page, 'Of', 'SO4 2-')
  await expect(recipe.getByText('mol/L SO4 2-')).toBeVisible()
  await choose(page, 'Of', 'NO3-')
  await expect(page.getByText('there is no NO3- in CuSO4·5H2O')).toBeVisible()
})

test('another hydrate in the bottle: the mass changes, and it is told; the run goes with it', async ({ page }) => {
  await choose(page, 'What', 'copper(II) sulf')
  await field(page, 'How strong').fill('0.1000')
  const recipe = page.getByRole('complementary', { name: 'Recipe' })
  await expect(recipe.getByText('6.2419')).toBeVisible()
  await page.getByRole('combobox', { name: 'Water in the solid at hand' }).focus()
  await page.keyboard.press('Enter')
  await page.getByRole('option', { name: 'anhydrous' }).click()
  await expect(recipe.getByText('The bottle at hand holds CuSO4, not CuSO4·5H2O')).toBeVisible()
  await expect(recipe.getByText(/^3\.990[01]$/)).toBeVisible() // 0.025 mol of 159.602 g/mol: 3.99005 g
  await page.getByRole('button', { name: 'Take it to the bench' }).click()
  await weigh(page, '3.9901')
  await expect(page.getByText('On the target')).toBeVisible()
  await page.keyboard.press('1')
  await makeUp(page)
  await expect(page.getByRole('button', { name: /^concentration: 0\.1000/ })).toBeVisible()
  await page.keyboard.press('=')
  await expect(page.getByRole('heading', { name: 'Mass of pure CuSO4', exact: true })).toBeVisible()
})

test('by mass of solution, by mass of water, by equivalents: what is missing is asked for', async ({ page }) => {
  await choose(page, 'What', 'sodium chlor')
  const strong = field(page, 'How strong')
  const recipe = page.getByRole('complementary', { name: 'Recipe' })
  await strong.fill('10 %')
  await expect(
    page.getByText('“%” alone does not say of what: write % w/v (g in 100 mL) or % w/w (g in 100 g)').first(),
  ).toBeVisible()
  await strong.fill('10 % w/w')
  await expect(page.getByText('needs the density of the solution')).toBeVisible()
  await field(page, 'Density of the solution, g/mL').fill('1.0707')
  await expect(recipe.getByText(/^1\.832/)).toBeVisible() // CRC Handbook: 1.832 mol/L
  await strong.fill('0.9 % w/v')
  await expect(field(page, 'Density of the solution, g/mL')).toBeHidden()
  await expect(recipe.getByText('2.2500')).toBeVisible() // 0.9 g in 100 mL, 250 mL
  await strong.fill('0.1 N')
  await expect(page.getByText('how many equivalents one formula unit has')).toBeVisible()
  await field(page, 'Equivalents in one formula unit').fill('1')
  await expect(page.getByText('equivalents belong to a reaction')).toBeVisible()
  await field(page, 'in the reaction').fill('chloride with silver')
  await page.getByRole('button', { name: 'Take it to the bench' }).click()
  await expect(page.getByRole('heading', { name: 'Sodium chloride, 0.1 eq/L for chloride with silver' })).toBeVisible()
})

test('a concentrated acid by volume: water first, then the pipette; slowly, cooled, made up', async ({ page }) => {
  await choose(page, 'What', 'hydrochloric')
  await expect(field(page, 'Assay on the bottle, % w/w')).toHaveValue('37')
  await expect(field(page, 'Density on the bottle, g/mL')).toHaveValue('1.184')
  await field(page, 'How strong').fill('0.1000')
  await field(page, 'How much').fill('1 L')
  await page.getByRole('combobox', { name: 'Taken by' }).focus()
  await page.keyboard.press('Enter')
  await page.getByRole('option', { name: 'graduated pipette' }).click()
  const recipe = page.getByRole('complementary', { name: 'Recipe' })
  await expect(recipe.getByText('8.32')).toBeVisible() // 8.3 mL to 1 L, common practice
  await expect(recipe.getByText('Into water, slowly, never the reverse')).toBeVisible()
  await page.getByRole('button', { name: 'Take it to the bench' }).click()
  await expect(page.getByRole('heading', { name: 'Water into the flask first, about 500 mL' })).toBeVisible()
  await page.keyboard.press('1')
  await expect(field(page, 'Volume measured')).toBeFocused()
  await page.keyboard.type('8.40 g')
  await expect(page.getByText('is a mass, and this is a volume').first()).toBeVisible()
  await field(page, 'Volume measured').fill('8.40')
  await page.keyboard.press('Enter')
  await expect(page.getByText('0.93 % over, inside the ±1 % band.')).toBeVisible()
  await page.getByRole('button', { name: 'Keep this volume' }).click()
  await expect(page.getByRole('heading', { name: 'Slowly into the water' })).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(field(page, 'Temperature')).toBeFocused()
  await page.keyboard.press('ControlOrMeta+a')
  await page.keyboard.type('31.5')
  await page.keyboard.press('Enter')
  await expect(page.getByText('11.5 °C from 20 °C')).toBeVisible()
  await page.getByRole('button', { name: 'Let it come to 20 °C' }).click()
  await field(page, 'Temperature').fill('20.5')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: 'Meniscus on the line' })).toBeVisible()
  await expect(page.getByRole('button', { name: /^concentration: 0\.1009/ })).toBeVisible()
})

test('the same acid by weighing, in the hood, with the balance', async ({ page }) => {
  await choose(page, 'What', 'hydrochloric')
  await field(page, 'How strong').fill('0.1000')
  await field(page, 'How much').fill('1 L')
  const recipe = page.getByRole('complementary', { name: 'Recipe' })
  await expect(recipe.getByText('9.8535')).toBeVisible() // 0.1 mol · 36.458 g/mol / 0.370
  await page.getByRole('button', { name: 'Take it to the bench' }).click()
  await expect(page.getByRole('button', { name: 'The water is in' })).toBeFocused()
  await page.keyboard.press('Enter')
  await weigh(page, '9.8535')
  await expect(page.getByText('On the target')).toBeVisible()
})
