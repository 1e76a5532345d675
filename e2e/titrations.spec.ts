import { readFileSync } from 'node:fs'
import { expect, field, signIn, test } from './bench'

type Page = import('@playwright/test').Page

test.use({ allow: [/409|422/] }) // the browser notes every refused request
test.beforeEach(async ({ page }) => {
  await signIn(page)
  // A bottle of sodium hydroxide, made approximately; taken in twice it is there once.
  const records = readFileSync('../internal/lab/testdata/lye.json', 'utf8')
  const answer = await page.request.post('/api/v1/import', {
    data: records,
    headers: { 'Content-Type': 'application/json' },
  })
  expect(answer.ok()).toBe(true)
})

const inSheet = (page: Page) => page.getByRole('list', { name: 'Run sheet' })
const trials = (page: Page) => page.getByRole('table', { name: /Trials/ })

async function choose(page: Page, label: string, option: RegExp | string) {
  const box = page.getByRole('combobox', { name: label, exact: true })
  await box.focus()
  await page.keyboard.press('Enter')
  await page.getByRole('option', { name: option }).click()
}

/** Types a reading of the burette, and goes on. */
async function read(page: Page, mL: string) {
  await expect(field(page, 'Burette')).toBeFocused()
  await page.keyboard.press('ControlOrMeta+a')
  await page.keyboard.type(mL)
  await page.keyboard.press('Enter')
}

/** A trial by pipette, from one reading to the other, and what was seen. */
async function trial(page: Page, n: number, from: string, to: string, digit = '1') {
  await expect(inSheet(page).getByText(new RegExp(`Trial ${n}.*into the flask`))).toBeVisible()
  await expect(page.getByRole('button', { name: 'It is in' })).toBeFocused()
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
  await expect(page.getByText(/A trial would take [45]\.\d mL only: take about 3[45] mL, or a thinner/)).toBeVisible()
  await field(page, 'Volume, mL each').fill('25')
  await expect(page.getByText(/About 2[45]\.\d mL a trial, about 90 mL for 3 trials and rinsing/)).toBeVisible()
  await expect(page.getByRole('img', { name: 'pH against what is added, as foretold' })).toBeVisible()
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
  await page.getByRole('button', { name: 'It is in' }).press('1')
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
  await page.keyboard.press('=')
  await expect(page.getByRole('region', { name: /Working: standardised concentration/ })).toBeVisible()
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
  await page.getByRole('button', { name: 'It is in' }).press('1')
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
  await expect(gives.getByText('normality, 1 eq for each mol of Fe^2+', { exact: true })).toBeVisible()
  await page.keyboard.press('=')
  await expect(page.getByRole('region', { name: /Working/ })).toContainText('5 mol of Fe^2+ for 1 mol of MnO4-')
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
