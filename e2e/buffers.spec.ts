import { expect, field, inSheet, record, signIn, test, unfold, withStandard } from './bench'

type Page = import('@playwright/test').Page

test.use({ allow: [/409|422/] }) // the browser notes every refused request
test.beforeEach(async ({ page }) => signIn(page))

const recipe = (page: Page) => page.getByRole('complementary', { name: 'Recipe' })

/** Asks for a buffer; the page keeps what was asked before. */
async function ask(page: Page, pH: string, concentration: string, system?: string) {
  await page.goto('/buffers')
  await expect(page.getByRole('heading', { name: 'Which pH, how strong, how much?' })).toBeVisible()
  await field(page, 'pH wanted').fill(pH)
  await field(page, 'Concentration').fill(concentration)
  await field(page, 'How much').fill('250 mL')
  if (system) await page.getByRole('button', { name: system, exact: true }).click()
}

/** Types what is asked for, and goes on. */
async function type(page: Page, label: string, text: string) {
  await expect(field(page, label)).toBeFocused()
  await field(page, label).fill(text)
  await page.keyboard.press('Enter')
}

/** The potential that the calibrated probe gives at about a pH. */
const potential = (pH: number) => (4.7 + (7 - pH) * 57.2).toFixed(1)

test('live: the stand-in probe stands in the beaker, and follows what is added', async ({ page, lab }) => {
  lab.plug(true)
  const id = lab.database.sql("SELECT id FROM meters WHERE name = 'Heron'")
  await page.request.post(`/api/v1/meters/${id}/standin`, { data: { time: 0.3 } })
  await ask(page, '7.00', '0.05 mol/L', 'Phosphate')
  await expect(recipe(page)).toContainText('0.7244 g')
  await page.getByRole('button', { name: 'Take it to the bench' }).click()
  await page.getByRole('button', { name: 'Water added' }).press('Enter')
  await type(page, 'Net mass shown', '0.7244')
  await expect(inSheet(page).getByText('Weighed 0.7244 g')).toBeVisible()
  await type(page, 'Net mass shown', '1.1500')
  await page.getByRole('button', { name: 'All dissolved, clear' }).press('Enter')
  await page.getByText('Stand-in probe, by hand').click()
  await page.getByRole('button', { name: 'Rinse and blot' }).click()
  await page.getByRole('button', { name: 'Into the beaker at hand' }).click()
  await expect(page.getByText(/In pH 6\.\d+ at 21.4 °C/)).toBeVisible()
  const meter = page.getByRole('group', { name: 'pH meter Heron' })
  await expect(meter.getByText('has settled')).toBeVisible({ timeout: 60_000 })
  await page.getByRole('button', { name: 'Take it' }).click()
  await expect(inSheet(page).getByText(/is wanted here/)).toBeVisible()
  await page.getByRole('button', { name: 'Add base' }).click()
  await record(page, 'Volume let in', '1.2')
  await page.getByText('Stand-in probe, by hand').click() // folded again with the step
  await expect(page.getByRole('button', { name: 'Into the beaker at hand' })).toHaveAttribute('aria-pressed', 'true')
  await expect(meter.getByText('has settled')).toBeVisible({ timeout: 60_000 })
  await page.getByRole('button', { name: 'Take it' }).click()
  await expect(inSheet(page).getByText(/close enough|is wanted here/)).toBeVisible()
  await expect(inSheet(page).getByText(/Calculated pH/)).toBeHidden() // what was added, the probe shows
})

test('designed, made, brought to its pH and labelled, by keyboard alone', async ({ page, lab }) => {
  lab.plug(false)
  await ask(page, '7.00', '0.05 mol/L', 'Phosphate')
  await expect(recipe(page)).toContainText('0.7244 g')
  await expect(recipe(page)).toContainText('Potassium dihydrogen phosphate')
  await expect(recipe(page)).toContainText('base over acid 0.634')
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Take it to the bench' }).focus()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: 'Phosphate buffer, 0.05 mol/L, pH 7.00' })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Water added' })).toBeFocused()
  await page.keyboard.press('1')
  await type(page, 'Net mass shown', '0.7250')
  await expect(inSheet(page).getByText('Weighed 0.7250 g')).toBeVisible() // else the next is typed into the same field
  await type(page, 'Net mass shown', '1.2100')
  await expect(page.getByRole('button', { name: 'All dissolved, clear' })).toBeFocused()
  await page.keyboard.press('1')
  await expect(page.getByText('The figures stand here once everything is in')).toBeHidden()
  await type(page, 'Potential shown', potential(6.85))
  await expect(inSheet(page).getByText(/is wanted here/)).toBeVisible()
  await page.getByRole('button', { name: 'Add base' }).press('Enter')
  await expect(inSheet(page).getByText(/^Add .* of sodium hydroxide solution, 1 mol\/L; about/)).toBeVisible()
  await record(page, 'Volume let in', '0.9')
  await type(page, 'Potential shown', potential(6.93))
  await expect(inSheet(page).getByText(/close enough/)).toBeVisible()
  await page.getByRole('button', { name: 'On to the mark' }).press('Enter')
  await expect(page.getByRole('button', { name: 'Meniscus on the line' })).toBeFocused()
  await page.keyboard.press('1')
  await expect(field(page, 'How many times')).toBeFocused()
  await page.keyboard.press('Enter')
  await type(page, 'Potential shown', potential(7.02))
  await expect(field(page, 'Keeps until')).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: /Finished: the bottle is on the/ })).toBeVisible()
  await page.reload()
  await expect(inSheet(page).getByText(/In the beaker: pH 6.9\d, with 0\.\d+ mL of sodium hydroxide/)).toBeVisible()

  // Its label says the pH that was read; the working of the pH opens.
  await page.getByRole('status').getByRole('link', { name: 'shelf' }).click()
  await expect(page.getByRole('heading', { name: 'Phosphate buffer', level: 1 })).toBeVisible()
  await expect(page.getByRole('button', { name: /pH read at 21.4 °C: 7.0\d/ })).toBeVisible()
})

test('the ratio upside down is named, and what can be done', async ({ page, lab }) => {
  lab.plug(false)
  await ask(page, '7.70', '0.1 mol/L', 'Tris')
  await expect(recipe(page)).toContainText('2.9572 g')
  await page.getByRole('button', { name: 'Take it to the bench' }).click()
  await page.getByRole('button', { name: 'Water added' }).press('Enter')
  await type(page, 'Net mass shown', '2.9572')
  await expect(inSheet(page).getByText('Weighed 2.9572 g')).toBeVisible()
  await type(page, 'Net mass shown', '0.7667')
  await page.getByRole('button', { name: 'All dissolved, clear' }).press('Enter')
  await type(page, 'Potential shown', potential(8.73))
  await expect(inSheet(page).getByText(/Most likely: The ratio is upside down/)).toBeVisible()
  const causes = page.getByRole('region', { name: 'What explains it' })
  await expect(causes.getByRole('listitem').first()).toContainText('upside down')
  await expect(causes.getByRole('listitem').first()).toContainText('hydrochloric acid')
  // Corrected, it is explained.
  await page.getByRole('button', { name: 'Read it again' }).click()
  await type(page, 'Potential shown', potential(7.82))
  await expect(inSheet(page).getByText(/close enough/)).toBeVisible()
  await expect(causes).toBeHidden()
})

test('a row of buffers from two liquids: one table, one run, a bottle each', async ({ page, lab }) => {
  lab.plug(false)
  await ask(page, '4.40', '0.1 mol/L', 'Acetate')
  await page.getByText('Details').first().click()
  await field(page, 'A row: further pH').fill('5.0')
  await page.getByRole('button', { name: /Acetic acid, glacial with Sodium hydroxide solution/ }).click()
  const row = recipe(page).getByRole('table', { name: 'The row' })
  await expect(row.getByRole('row')).toHaveCount(3)
  await page.getByRole('button', { name: 'Take it to the bench' }).click()
  await expect(page.getByRole('heading', { name: /pH 4.40 and 1 more/ })).toBeVisible()
  for (let tube = 0; tube < 2; tube++) {
    for (const liquid of ['Acetic acid', 'Sodium hydroxide']) {
      await expect(
        inSheet(page).getByText(new RegExp(`pH ${['4.40', '5.00'][tube]}: [\\d.]+ mL of ${liquid}`)),
      ).toBeVisible()
      const asked = await inSheet(page)
        .getByText(/^About [\d.]+ mL expected/)
        .innerText()
      await record(page, 'Volume let out', /[\d.]+/.exec(asked)![0])
      await expect(
        inSheet(page).getByText(new RegExp(`pH ${['4.40', '5.00'][tube]}: Measured .* of ${liquid}`)),
      ).toBeVisible()
    }
    await page.getByRole('button', { name: 'Meniscus on the line' }).press('Enter')
    await expect(field(page, 'How many times')).toBeFocused()
    await page.keyboard.press('Enter')
  }
  await type(page, 'Potential shown', potential(4.41))
  await expect(inSheet(page).getByText('pH 4.40: Finished')).toBeVisible()
  await type(page, 'Potential shown', potential(5.02))
  await expect(field(page, 'Keeps until')).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: /the buffers are on the/ })).toBeVisible()
  await expect(page.getByRole('table', { name: 'The row' }).getByRole('row')).toHaveCount(3)
})

test('a row after a way with a solid was chosen says what is wrong', async ({ page, lab }) => {
  lab.plug(false)
  await ask(page, '4.70', '0.1 mol/L', 'Acetate')
  const ways = page.getByRole('list', { name: 'Ways' })
  await ways
    .getByRole('button', { name: /sodium acetate/i })
    .first()
    .click()
  await expect(ways.getByRole('button', { pressed: true })).toHaveText(/sodium acetate/i)
  await unfold(page, 'Details')
  const row = field(page, 'A row: further pH')
  await row.fill('5.0')
  const says = page.getByText('a row is made of two liquids, and the way chosen has a solid in it').first()
  await expect(says).toBeVisible()
  await row.fill('')
  await expect(says).toBeHidden()
})

test('what cannot be is said beside its field, and nothing is lost', async ({ page }) => {
  await ask(page, '7.00', '0.05 mol/L')
  await field(page, 'pH wanted').fill('15')
  await expect(page.getByText('the pH wanted is from 0 to 14')).toBeVisible()
  await field(page, 'pH wanted').fill('7.2')
  await field(page, 'Concentration').fill('5 g/L')
  await expect(page.getByText(/mol\/L/).first()).toBeVisible()
  await field(page, 'Concentration').fill('0.02')
  await expect(page.getByRole('button', { name: 'Take it to the bench' })).toBeEnabled()
  await page.reload()
  await expect(field(page, 'pH wanted')).toHaveValue('7.2')
  await page.getByRole('button', { name: /^All \d+/ }).click()
  await expect(page.getByRole('button', { name: 'MOPS', exact: true })).toBeVisible()
  // What it is brought to its pH with: from the shelf, or as strong as is said.
  await page.getByText('Details').click()
  await field(page, 'Hydrochloric acid, mol/L').fill('50')
  await expect(page.getByText('what brings it to its pH has from 0.001 to 12 mol/L')).toBeVisible()
  await field(page, 'Hydrochloric acid, mol/L').fill('0.5')
  const acid = page.getByRole('combobox', { name: 'Brought to its pH with acid' })
  await acid.focus()
  await page.keyboard.press('Enter')
  await page.getByRole('option', { name: /Potassium hydrogen phthalate/ }).click()
  await expect(page.getByText(/is none: take a strong acid of one proton, like hydrochloric acid/)).toBeVisible()
  await acid.focus()
  await page.keyboard.press('Enter')
  await page.getByRole('option', { name: 'hydrochloric acid', exact: true }).click()
  await expect(page.getByText(/is none: take a strong acid/)).toBeHidden()
})

test('a system of the lab’s own: added, corrected, and a buffer of it', async ({ page }) => {
  await page.request.post('/api/v1/substances', {
    data: { name: '4-Cyanophenol', formula: 'C7H5NO', class: 'secondary', source: 'label', solubility: 5 },
  })
  await page.goto('/setup/systems')
  await expect(page.getByRole('row', { name: /Phosphate/ }).first()).toContainText('7.198')
  await page.getByRole('button', { name: 'Add a system' }).press('Enter')
  await field(page, 'Acid').fill('4-cyanophenol')
  await field(page, 'Its base').fill('4-cyanophenolate')
  await field(page, 'Formula with all its protons').fill('C7H5N0')
  await field(page, 'pKa 1').fill('7,79')
  await page.getByRole('button', { name: 'Another proton' }).click()
  await field(page, 'pKa 2').fill('seven')
  await field(page, 'Source of these values').fill('handbook')
  await page.getByRole('button', { name: 'Add it' }).click()
  await expect(page.getByText('Write a number, like 4.76')).toBeVisible()
  await field(page, 'pKa 2').fill('7')
  await page.getByRole('button', { name: 'Add it' }).click()
  await expect(page.getByText('7 does not follow 7.79')).toBeVisible()
  await page.getByRole('button', { name: 'Take pKa 2 away' }).click()
  await page.getByRole('button', { name: 'Add it' }).click()
  await expect(page.getByText(/C7H5N0|no atoms|zero/)).toBeVisible()
  await field(page, 'Formula with all its protons').fill('C7H5NO')
  await page.keyboard.press('Enter')
  const row = page.getByRole('row', { name: /4-cyanophenolate, our own/i })
  await expect(row).toContainText('7.79 ± 0.02')
  await row.getByRole('button', { name: 'Correct 4-cyanophenolate' }).click()
  await field(page, 'pKa 1').fill('7.97')
  await page.getByRole('button', { name: 'Correct it' }).click()
  await expect(row).toContainText('7.97 ± 0.02')

  await ask(page, '8.00', '0.02 mol/L', '4-cyanophenolate')
  await expect(recipe(page)).toContainText('4-Cyanophenol')
  await expect(recipe(page)).toContainText('0.59') // g: 5 mmol of 119.12 g/mol
  await page.getByRole('button', { name: 'Take it to the bench' }).click()
  await expect(page.getByRole('heading', { name: '4-cyanophenolate buffer, 0.02 mol/L, pH 8.00' })).toBeVisible()
})

test('a row of buffers by volumes of two stocks: no mark, each tube with a pH of its own', async ({ page, lab }) => {
  lab.plug(false)
  await withStandard(page, 'tris-hydrochloride', 7.88, 0)
  await withStandard(page, 'tris', 6.057, 1)
  await ask(page, '8.00', '0.1 mol/L', 'Tris')
  await field(page, 'Used at, °C').fill('21.4') // as warm as the bench
  await unfold(page, 'Details')
  const mixes = field(page, 'or mL of acid + base stock')
  await mixes.fill('5+0 2+8')
  await expect(page.getByText('tube 1: of both stocks 0.05 mL to 1000 mL, like 5+1')).toBeVisible()
  await mixes.fill('5+x')
  await expect(page.getByText(/“x”/).first()).toBeVisible()
  await mixes.fill('5 + 1  2+8')
  await expect(field(page, 'Concentration')).toBeHidden()
  await expect(field(page, 'How much')).toBeHidden()
  const row = recipe(page).getByRole('table', { name: 'The row' })
  await expect(row.getByRole('row').nth(1)).toHaveText(/^7\.\d\d5\.00 mL1\.00 mL0\.1$/)
  await expect(row.getByRole('row').nth(2)).toHaveText(/^8\.\d\d2\.00 mL8\.00 mL0\.1$/)
  const pH = await row.getByRole('row').nth(2).getByRole('cell').first().innerText()
  await page.getByRole('button', { name: 'Take it to the bench' }).click()
  await expect(page.getByRole('heading', { name: /^Tris buffer, 0\.1 mol\/L, pH 7\.\d\d and 1 more$/ })).toBeVisible()
  for (const volumes of [
    ['5.00', '1.00'],
    ['2.00', '8.00'],
  ]) {
    for (const volume of volumes) {
      await expect(inSheet(page).getByText(`About ${volume} mL expected`)).toBeVisible()
      await record(page, 'Volume let out', volume)
    }
    await expect(field(page, 'How many times')).toBeFocused()
    await page.keyboard.press('Enter')
  }
  await expect(inSheet(page).getByText(/to the mark/)).toBeHidden()
  await type(page, 'Potential shown', potential(7.4))
  await page.getByRole('button', { name: 'Keep it under the pH that it has' }).press('Enter')
  await type(page, 'Potential shown', potential(Number(pH)))
  await expect(field(page, 'Keeps until')).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: /the buffers are on the/ })).toBeVisible()
  await page.reload()
  await expect(page.getByRole('table', { name: 'The row' }).getByRole('row').nth(2)).toContainText(pH)
})
