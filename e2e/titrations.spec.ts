import { choose, expect, field, inSheet, signIn, test, withBottle } from './bench'

type Page = import('@playwright/test').Page

test.use({ allow: [/409|422/] }) // the browser notes every refused request
test.beforeEach(async ({ page }) => {
  await signIn(page)
  await withBottle(page, 'lye')
})

const trials = (page: Page) => page.getByRole('table', { name: /Trials/ })

/** Types a reading of the burette, and goes on. */
async function read(page: Page, mL: string) {
  await expect(field(page, 'Burette')).toBeFocused()
  await page.keyboard.press('ControlOrMeta+a') // of what was refused
  await page.keyboard.type(mL)
  await page.keyboard.press('Enter')
}

/** A trial by pipette, from one reading to the other, and what was seen. */
async function trial(page: Page, n: number, from: string, to: string, digit = '1') {
  await expect(inSheet(page).getByText(new RegExp(`Trial ${n}.*into the flask`))).toBeVisible()
  await expect(page.getByRole('button', { name: '1 Done', exact: true })).toBeFocused()
  await page.keyboard.press('1')
  await expect(inSheet(page).getByText(/read the burette before it begins/)).toBeVisible()
  await read(page, from)
  await expect(inSheet(page).getByText(/run it in, and read when you stop/)).toBeVisible()
  await read(page, to)
  await expect(page.getByRole('button', { name: 'That was the end point' })).toBeFocused()
  await page.keyboard.press(digit)
}

test('a base is standardised by keyboard alone: rough, past, agreed; the bottle and its label follow', async ({
  page,
}) => {
  await page.goto('/titrations')
  await expect(page.getByRole('heading', { name: 'What is in the flask, what is in the burette?' })).toBeVisible()
  await choose(page, 'Titration', 'Sodium hydroxide against potassium hydrogen phthalate')
  await choose(page, 'To find', /standardise it/)
  await choose(page, 'Sample taken', 'by pipette')
  await field(page, 'Volume, mL each').fill('17')
  await field(page, 'Volume, mL each').press('Enter')
  await expect(page.getByText('no pipette here delivers 17 mL')).toBeVisible()
  // What it will take is told before it is taken to the bench.
  await field(page, 'Volume, mL each').fill('5')
  await expect(
    page.getByText(/A trial would take [45]\.\d mL only: take about 3[45] mL, or a titrant of about 0\.01\d mol\/L/),
  ).toBeVisible()
  await field(page, 'Volume, mL each').fill('25')
  await expect(page.getByText(/About 2[45]\.\d mL a trial, about 90 mL for 3 trials and rinsing/)).toBeVisible()
  await expect(page.getByRole('img', { name: 'pH against what is added, as predicted' })).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: 'Standardise sodium hydroxide' })).toBeVisible()
  await expect(
    page.getByRole('complementary').getByText(/About 2[45].\d mL a trial, about 90 mL for 3 trials and rinsing/),
  ).toBeVisible()
  await expect(page.getByRole('button', { name: 'Rinsed three times' })).toBeFocused()
  await page.keyboard.press('1')
  await trial(page, 1, '0.20', '25.90')
  await expect(trials(page).getByRole('row', { name: /mL 25.70/ })).toBeVisible()
  await trial(page, 2, '0.10', '26.50', '3') // past it
  await expect(inSheet(page).getByText(/Trial 2: 26.40 mL for 25 mL, set aside: past the end point/)).toBeVisible()
  await trial(page, 3, '0.35', '25.30')
  await expect(inSheet(page).getByText(/One trial shows no slip: at least 1 more/)).toBeVisible()
  await trial(page, 4, '25.30', '50.00') // what was left
  await expect(inSheet(page).getByText(/No two agree within 0.10 mL yet/)).toBeVisible()
  await page.getByRole('button', { name: '1 Done', exact: true }).press('1')
  await read(page, '1.00')
  await expect(inSheet(page).getByText('Trial 5: run it in, and read when you stop')).toBeVisible()
  // Nonsense: finer than the scale, beyond it, and below where it began.
  await read(page, '25.945')
  await expect(page.getByText(/marked every 0.1 mL and read to 0.01 mL, no finer/)).toBeVisible()
  await read(page, '51')
  await expect(page.getByText(/it goes from 0 to 50 mL/)).toBeVisible()
  await read(page, '0.50')
  await expect(inSheet(page).getByText(/The burette cannot stand at 0.50 mL after 1.00 mL/)).toBeVisible()
  await page.getByRole('button', { name: 'Read it again' }).press('Enter')
  // Unsure, one drop more: the reading before was it.
  await read(page, '25.95')
  await page.getByRole('button', { name: 'Unsure: one drop more' }).press('Enter')
  await expect(inSheet(page).getByText('Trial 5: one drop more, and read')).toBeVisible()
  await read(page, '26.00')
  await page.getByRole('button', { name: 'The reading before was it' }).press('Enter')
  await expect(inSheet(page).getByText(/Trials 3 and 5 agree within 0.10 mL: mean 24.95 mL, s 0.000 mL/)).toBeVisible()
  await page.getByRole('button', { name: 'Enough trials' }).first().press('Enter')
  await expect(page.getByRole('heading', { name: 'Titrated' })).toBeVisible()
  await page.reload()
  await expect(trials(page).getByRole('row', { name: /rough set aside agrees apart agrees/ })).toBeVisible()
  await page.keyboard.press('=')
  await expect(page.getByRole('region', { name: /Working/ })).toContainText('Concentration of NaOH')
  await expect(page.getByRole('region', { name: /Working/ })).toContainText('50 mL burette')
  await page.keyboard.press('Escape')
  const main = await page
    .getByRole('complementary')
    .getByRole('button', { name: /mol\/L/ })
    .first()
    .innerText()
  const found = /0\.\d{5}/.exec(main)![0]

  await page.goto('/shelf')
  await page
    .getByRole('link', { name: /Sodium hydroxide/ })
    .first()
    .click()
  await expect(page.getByText(/Standardised, run/)).toBeVisible()
  await expect(page.getByText(found).first()).toBeVisible()
  await expect(page.getByText(/Made as/)).toContainText('0.1001 ± 0.0024 mol/L')
  await expect(page.getByText('A label printed before shows the old one.')).toBeVisible()
  // The working of its concentration is that of the titration, and other figures follow from it.
  const working = page.getByRole('region', { name: /^Working/ })
  await page.keyboard.press('=')
  await expect(working).toContainText('Mean titre')
  await page.keyboard.press('Escape')
  await page
    .getByRole('button', { name: /^mass concentration: |^grams per litre: |g\/L/ })
    .first()
    .click()
  await expect(working).toContainText('Mean titre')
  await expect(working).toContainText('c: as it was found')
})

test('vinegar is determined with that base, back to what stood in the bottle', async ({ page }) => {
  await page.goto('/titrations')
  await choose(page, 'Titration', /Acetic acid/)
  await choose(page, 'To find', /determine it/)
  await choose(page, 'Sample taken', 'by pipette')
  await choose(page, 'Sample', 'an unknown, named below')
  await field(page, 'Volume, mL each').fill('25')
  await page.getByRole('button', { name: /Take it to the bench/ }).click()
  await expect(page.getByText('say what it is, in at most 80 letters')).toBeVisible()
  await field(page, 'What it is called').fill('Alder vinegar')
  await field(page, 'Diluted before, times').fill('10')
  await field(page, 'Density, g/mL').fill('1,005')
  await page.getByRole('button', { name: /Take it to the bench/ }).click()
  await expect(page.getByText(/“1,005”/)).toBeVisible() // one and five thousandths, or a thousand and five
  await field(page, 'Density, g/mL').fill('1.005')
  await page.getByRole('button', { name: /Take it to the bench/ }).click()
  await expect(page.getByRole('heading', { name: /Alder vinegar: acetic acid/ })).toBeVisible()
  await page.getByRole('button', { name: 'Not rinsed' }).press('Enter')
  await expect(inSheet(page).getByText(/The burette was not rinsed 2 times with the titrant/)).toBeVisible()
  await trial(page, 1, '0.00', '21.40')
  await trial(page, 2, '0.05', '21.05')
  await trial(page, 3, '0.10', '21.14')
  await expect(inSheet(page).getByText(/Trials 2 and 3 agree/)).toBeVisible()
  await page.getByRole('button', { name: 'Enough trials' }).first().press('Enter')
  await expect(page.getByRole('heading', { name: 'Titrated' })).toBeVisible()
  const gives = page.getByRole('complementary')
  await expect(gives.getByRole('button', { name: /0.08\d+ ± 0.00\d+ mol\/L/ })).toBeVisible()
  await expect(gives.getByText('C2H4O2 in alder vinegar, undiluted', { exact: true })).toBeVisible()
  await expect(gives.getByRole('button', { name: /5.\d+ ± 0.\d+ % w\/v/ })).toBeVisible()
  await expect(gives.getByRole('button', { name: /% w\/w/ })).toBeVisible()
})

test('iron is determined with the standardised permanganate, five to one, read at the top edge', async ({ page }) => {
  await page.goto('/titrations')
  await choose(page, 'Titration', 'Iron(II) with permanganate')
  await choose(page, 'To find', /determine it/)
  await choose(page, 'Sample taken', 'by pipette')
  await choose(page, 'Sample', 'an unknown, named below')
  await field(page, 'Volume, mL each').fill('25')
  await field(page, 'What it is called').fill('Pond iron')
  await page.getByRole('button', { name: /Take it to the bench/ }).click()
  await expect(page.getByRole('heading', { name: /Pond iron: iron\(II\) with permanganate/ })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Rinsed three times' })).toBeFocused()
  await page.keyboard.press('1')
  await page.getByRole('button', { name: '1 Done', exact: true }).press('1')
  await expect(inSheet(page).getByText(/top edge of the dark liquid/)).toBeVisible()
  await read(page, '0.00')
  await expect(inSheet(page).getByText(/run it in, and read when you stop/)).toBeVisible()
  await read(page, '19.60')
  await page.getByRole('button', { name: 'That was the end point' }).press('1')
  await trial(page, 2, '0.10', '19.15')
  await trial(page, 3, '0.20', '19.25')
  await expect(inSheet(page).getByText(/Trials 2 and 3 agree within 0.10 mL: mean 19.05 mL/)).toBeVisible()
  await page.getByRole('button', { name: 'Enough trials' }).first().press('Enter')
  await expect(page.getByRole('heading', { name: 'Titrated' })).toBeVisible()
  // 5 × 0.01987 mol/L × 19.05 / 25.
  const gives = page.getByRole('complementary')
  await expect(gives.getByRole('button', { name: /0\.0757\d? ± 0\.000\d+ mol\/L/ })).toBeVisible()
  await expect(gives.getByRole('button', { name: /0\.0757\d? ± 0\.000\d+ eq\/L/ })).toBeVisible()
  await expect(gives.getByText('normality, 1 eq for each mol of Fe2+').first()).toBeVisible()
  await page.keyboard.press('=')
  await expect(page.getByRole('region', { name: /Working/ })).toContainText('5 mol of Fe2+ for 1 mol of MnO4−')
})

test('an equation of one’s own is balanced, and what cannot be is said', async ({ page }) => {
  await page.goto('/titrations')
  await choose(page, 'Titration', 'another one: type its equation')
  const equation = field(page, 'Equation, balanced or not')
  await equation.fill('MnO4- + Fe^2+ + H+')
  await expect(page.getByText('write an arrow between the two sides')).toBeVisible()
  await equation.fill('MnO4- + H2O2 + H+ -> Mn^2+ + O2 + H2O')
  await expect(page.getByText(/more than one solution: it holds 2 reactions/)).toBeVisible()
  await equation.fill('NaOH + H2C2O4 -> Na2C2O4 + H2O')
  await expect(page.locator('math')).toContainText('2')
  await choose(page, 'In the burette', 'NaOH')
  await choose(page, 'In the flask', 'H2C2O4')
  await choose(page, 'To find', /determine it/)
  await choose(page, 'Titrant', /Sodium hydroxide/)
  await choose(page, 'Sample taken', 'by cylinder')
  await choose(page, 'Sample', 'an unknown, named below')
  await field(page, 'Volume, mL each').fill('20')
  await field(page, 'What it is called').fill('Sorrel tea')
  await page.getByRole('button', { name: /Take it to the bench/ }).click()
  await expect(page.getByRole('heading', { name: /Sorrel tea/ })).toBeVisible()
})

test('both end points of one sample: hydroxide beside carbonate', async ({ page }) => {
  await withBottle(page, 'acid')
  await page.goto('/titrations')
  await choose(page, 'Titration', /Carbonate beside hydroxide/)
  await choose(page, 'To find', /determine it/)
  await choose(page, 'Sample taken', 'by pipette')
  await choose(page, 'Sample', 'an unknown, named below')
  await field(page, 'What it is called').fill('Pond soda')
  await field(page, 'Volume, mL each').fill('25')
  await field(page, 'Diluted before, times').fill('')
  await page.getByRole('button', { name: /Take it to the bench/ }).click()
  await page.getByRole('button', { name: /Rinsed three times/ }).press('1')
  const both = async (first: string, second: string) => {
    await expect(page.getByRole('button', { name: '1 Done', exact: true })).toBeFocused()
    await page.keyboard.press('1')
    await expect(inSheet(page).getByText(/read the burette before it begins/)).toBeVisible()
    await read(page, '0.00')
    await expect(inSheet(page).getByText(/to the first end point, and read/)).toBeVisible()
    await read(page, first)
    await expect(page.getByRole('button', { name: 'That was the first end point' })).toBeFocused()
    await page.keyboard.press('1')
    await expect(inSheet(page).getByText(/on to the second end point/)).toBeVisible()
    await read(page, second)
    await expect(page.getByRole('button', { name: 'That was the second end point' })).toBeFocused()
    await page.keyboard.press('1')
  }
  await both('18.20', '25.30')
  await both('18.00', '25.00')
  await both('18.02', '25.04')
  await expect(page.getByText(/so hydroxide stands beside the carbonate/).first()).toBeVisible()
  await expect(trials(page).getByRole('row', { name: /first, mL/ })).toContainText('18.02')
  const gives = page.getByRole('complementary')
  await expect(gives.getByRole('button', { name: /Na2CO3 in pond soda: 0\.\d+ ± 0\.\d+ mol\/L/ })).toBeVisible()
  await expect(gives.getByRole('button', { name: /NaOH in pond soda: 0\.\d+ ± 0\.\d+ mol\/L/ })).toBeVisible()
  await gives.getByRole('button', { name: /NaOH in pond soda/ }).click()
  await expect(page.getByRole('region', { name: /Working/ })).toContainText('Acid to the second end point')
  await expect(
    inSheet(page).getByText('Trial 3: 25.04 mL in all, 18.02 mL to the first end point, for 25 mL'),
  ).toBeVisible()
})

test('a back titration: an excess is added, and its rest is titrated', async ({ page }) => {
  await page.goto('/titrations')
  await choose(page, 'Titration', 'Sodium hydroxide against potassium hydrogen phthalate')
  await choose(page, 'To find', /determine it/)
  await choose(page, 'Titrated', 'back: an excess first')
  await choose(page, 'Sample taken', 'weighed')
  await choose(page, 'Solid', 'an unknown, named below')
  await field(page, 'What it is called').fill('Baking powder')
  await field(page, 'About, g each').fill('0.1')
  await choose(page, 'Reagent', /^bottle 1: Potassium hydrogen phthalate/) // other tests make more
  await field(page, 'Excess, mL each').fill('40')
  await page.getByRole('button', { name: /Take it to the bench/ }).click()
  await expect(page.getByText('write an arrow between the two sides')).toBeVisible() // no equation was typed
  await field(page, 'Equation with the sample, balanced or not').fill('NaHCO3 + KHC8H4O4 -> KNaC8H4O4 + CO2 + H2O')
  await choose(page, 'Sought', 'NaHCO3')
  await page.getByRole('button', { name: /Take it to the bench/ }).click()
  await expect(page.getByText('take a volume that one of the lab delivers')).toBeVisible()
  await field(page, 'Excess, mL each').fill('25')
  await page.getByRole('button', { name: /Take it to the bench/ }).click()
  await expect(page.getByRole('heading', { name: 'Baking powder: NaHCO3 by back titration' })).toBeVisible()
  await page.getByRole('button', { name: /Rinsed three times/ }).press('1')
  for (const [mass, mL] of [
    ['0.1000', '13.10'],
    ['0.1010', '12.98'],
    ['0.0990', '13.22'],
  ]) {
    await expect(inSheet(page).getByText(/weigh about .*, then 25 mL of potassium hydrogen phthalate/)).toBeVisible()
    await expect(field(page, 'Net mass shown')).toBeFocused()
    await page.keyboard.type(mass!)
    await page.keyboard.press('Enter')
    await expect(inSheet(page).getByText(/read the burette before it begins/)).toBeVisible()
    await read(page, '0.00')
    await expect(inSheet(page).getByText(/run it in, and read when you stop/)).toBeVisible()
    await read(page, mL!)
    await page.getByRole('button', { name: 'That was the end point' }).press('1')
  }
  await expect(page.getByText(/The sample took 4\d % of the excess/).first()).toBeVisible()
  const gives = page.getByRole('complementary')
  await gives.getByRole('button', { name: /NaHCO3 in each gram: 1\d\.\d+ ± 0\.\d+ mmol\/g/ }).click()
  await expect(page.getByRole('region', { name: /Working/ })).toContainText('KHC8H4O4 left')
})

test('a figure typed while a choice waits chooses nothing, and what belongs to a sample is not proposed again', async ({
  page,
}) => {
  await page.goto('/titrations')
  await choose(page, 'Titration', 'Iron(II) with permanganate')
  await choose(page, 'To find', /determine it/)
  await choose(page, 'Sample taken', 'by pipette')
  await choose(page, 'Sample', 'an unknown, named below')
  await field(page, 'What it is called').fill('Pond iron')
  await field(page, 'Diluted before, times').fill('10')
  await page.reload()
  await expect(field(page, 'Diluted before, times')).toHaveValue('10')
  await field(page, 'Diluted before, times').press('Enter')
  await expect(page.getByRole('heading', { name: /Pond iron/ })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Rinsed three times' })).toBeFocused()
  await page.keyboard.type('22.60')
  await expect(page.getByText('“22.60” was not taken: a choice comes first.')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Rinsed three times' })).toBeVisible()
  await page.keyboard.press('2')
  await expect(inSheet(page).getByText(/rinsed twice with the titrant/)).toBeVisible()
  await page.goto('/titrations')
  await expect(field(page, 'Diluted before, times')).toHaveValue('')
  await expect(field(page, 'What it is called')).toHaveValue('')
})

test('the reaction follows from the two bottles, and the bottles from the reaction', async ({ page }) => {
  await page.goto('/titrations')
  const chosen = (list: string) =>
    page.locator('.el-select', { has: page.getByRole('combobox', { name: list, exact: true }) })
  await expect(chosen('Titration')).toContainText('Sodium hydroxide against potassium hydrogen phthalate')
  await choose(page, 'Titrant', /bottle 8: Potassium permanganate/)
  await expect(chosen('Titration')).toContainText('Permanganate')
  await expect(chosen('Titrant')).toContainText('bottle 8')
  await choose(page, 'Sample', /bottle 1: Potassium hydrogen phthalate/)
  await expect(chosen('Titration')).toContainText('phthalate')
  await expect(chosen('Sample')).toContainText('bottle 1')
  await expect(chosen('Titrant')).toContainText('Sodium hydroxide')
  await expect(page.getByText(/About 2[45]\.\d mL a trial/)).toBeVisible()
  await expect(
    page.getByRole('complementary').getByText(/trials that agree would give it to about ±.0\.\d\d/),
  ).toBeVisible()
  await expect(page.getByRole('region', { name: 'From the shelf' })).toContainText(
    /About 90.mL of bottle \d+, Sodium hydroxide.*left/,
  )
  // An approximate acid that is determined takes its strength over, unless it was diluted before.
  await withBottle(page, 'acid')
  await choose(page, 'To find', /determine it/)
  await choose(page, 'Sample', /Hydrochloric acid/)
  await expect(chosen('Titration')).toContainText('acid')
  await expect(chosen('What is found goes onto its bottle')).toContainText('yes, the bottle takes it over')
  await field(page, 'Diluted before, times').fill('10')
  await expect(page.getByRole('combobox', { name: 'What is found goes onto its bottle' })).toBeHidden()
  await field(page, 'Diluted before, times').fill('')
  // Both again from the reaction: nothing on the shelf holds chloride for silver nitrate.
  await choose(page, 'Titration', /Chloride with silver nitrate|Mohr/)
  await expect(page.getByText('No bottle on the shelf contains Ag+.')).toBeVisible()
  await expect(page.getByText(/About 2[45]\.\d mL a trial/)).toBeHidden()
})
