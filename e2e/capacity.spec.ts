import { choose, expect, field, inSheet, record, signIn, test } from './bench'

type Page = import('@playwright/test').Page

test.use({ allow: [/409|422/] }) // the browser notes every refused request
test.beforeEach(async ({ page, lab }) => {
  lab.plug(false)
  await signIn(page)
})

const beaker = (page: Page, name: string) => page.getByRole('region', { name, exact: true })

/** The potential that the calibrated probe gives at a pH. */
const potential = (pH: number) => (4.7 + (7 - pH) * 57.2).toFixed(1)

const read = (page: Page, pH: number) => record(page, 'Potential shown', potential(pH))

const add = (page: Page) => record(page, 'Portion', '2')

async function setUp(page: Page) {
  await page.goto('/capacity')
  await expect(page.getByRole('heading', { name: 'Which buffer, and what is done to it?' })).toBeVisible()
  const buffer = page.getByRole('combobox', { name: 'Buffer' })
  await buffer.focus()
  await page.keyboard.press('Enter')
  await page.getByRole('option', { name: /bottle 7: Phosphate buffer/ }).click()
}

test('acid, base and water beside it, in mL, by keyboard alone', async ({ page }) => {
  await setUp(page)
  await field(page, 'In each beaker, mL').focus()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: /Capacity of phosphate buffer/ })).toBeVisible()
  await expect(page.getByRole('button', { name: '1 Done', exact: true })).toBeFocused()
  await page.keyboard.press('1')
  await expect(inSheet(page).getByText('Buffer with acid: the pH before anything is added')).toBeVisible()
  await read(page, 7.03)
  await add(page)
  await read(page, 6.9)
  await expect(beaker(page, 'buffer with acid').getByRole('row')).toHaveCount(3)
  await expect(beaker(page, 'buffer with acid').getByRole('row').nth(2)).toContainText(/2.00\s*6.9/)
  await add(page)
  await read(page, 7.2) // the wrong way
  await expect(inSheet(page).getByText(/Acid was added, and the pH went up/)).toBeVisible()
  await page.getByRole('button', { name: 'Done with this beaker' }).press('Enter')
  await read(page, 7.03)
  await add(page)
  await read(page, 7.17)
  await add(page)
  await read(page, 7.35)
  await page.getByRole('button', { name: 'Done with this beaker' }).press('Enter')
  await read(page, 6.4)
  await add(page)
  await read(page, 2.45)
  await expect(page.getByText(/The water has moved by [34]\.\d pH with 2.00 mL, the buffer by/)).toBeVisible()
  await page.getByRole('button', { name: 'Done with this beaker' }).press('Enter')
  await read(page, 6.4)
  await add(page)
  await read(page, 11.6)
  await page.getByRole('button', { name: 'Done with this beaker' }).press('Enter')
  await expect(page.getByRole('heading', { name: 'Tested' })).toBeVisible()
  await page.reload()
  await expect(page.getByRole('button', { name: /capacity per pH, at pH 7.10, buffer with base/ })).toBeVisible()
  await page.keyboard.press('=')
  await expect(page.getByRole('region', { name: /Working/ })).toContainText('half way, so that the dilution is counted')
})

test('a soft drink in counted drops: its strength is found', async ({ page }) => {
  await setUp(page)
  const by = page.getByRole('combobox', { name: 'Added by' })
  await by.focus()
  await page.keyboard.press('Enter')
  await page.getByRole('option', { name: 'counted drops' }).click()
  await field(page, 'Drops at a time').fill('20')
  await field(page, 'One drop, mL').fill('')
  await field(page, 'Or an acid of unknown strength').fill('lemon soda')
  await field(page, 'Sodium hydroxide, mol/L').fill('0')
  await page.getByRole('button', { name: /Set up the beakers/ }).click()
  await expect(page.getByText('counted drops need the volume of one')).toBeVisible()
  await field(page, 'One drop, mL').fill('0.05')
  await page.getByRole('button', { name: /Set up the beakers/ }).click()
  await page.getByRole('button', { name: '1 Done', exact: true }).press('Enter')
  await read(page, 7.03)
  await expect(inSheet(page).getByText('Buffer with acid: add 20 drops, 1 mL of lemon soda')).toBeVisible()
  // One key for each drop; Enter when they are in.
  const drops = field(page, 'Drops')
  await expect(drops).toBeFocused()
  await expect(drops).toHaveValue('20')
  for (let n = 0; n < 18; n++) await page.keyboard.press('Space')
  await expect(drops).toHaveValue('18')
  await page.getByRole('button', { name: 'One drop Space' }).click()
  await drops.press('Space')
  await expect(drops).toHaveValue('20')
  await page.keyboard.press('Enter')
  await expect(inSheet(page).getByText('Buffer with acid: the pH after 1.00 mL')).toBeVisible()
  await read(page, 6.95)
  for (const pH of [6.88, 6.81]) {
    await expect(drops).toBeFocused()
    await page.keyboard.press('Enter')
    await read(page, pH)
  }
  await expect(page.getByRole('button', { name: /strength of lemon soda as an acid/ })).toBeVisible()
})

test('a weak acid from a bottle, a dilution, and a warm bath with its colour', async ({ page }) => {
  await setUp(page)
  await choose(page, 'Acid', /Potassium hydrogen phthalate/)
  await field(page, 'Sodium hydroxide, mol/L').fill('0')
  await choose(page, 'Added by', 'volume')
  await choose(page, 'Water beside it', 'no')
  await field(page, 'Diluted, mL of water at a time').fill('50')
  await field(page, 'Warmed and cooled, °C').fill('140')
  await choose(page, 'Indicator in these', /bromothymol blue/)
  await page.getByRole('button', { name: /Set up the beakers/ }).click()
  await expect(page.getByText('a bath has 0 to 60 °C')).toBeVisible()
  await field(page, 'Warmed and cooled, °C').fill('40')
  await page.getByRole('button', { name: /Set up the beakers/ }).click()
  await page.getByRole('button', { name: '1 Done', exact: true }).press('Enter')

  await read(page, 7.03)
  await expect(
    inSheet(page).getByText(/Buffer with acid: add 2 mL of potassium hydrogen phthalate, .* from bottle/),
  ).toBeVisible()
  await add(page)
  await read(page, 6.9)
  await page.getByRole('button', { name: 'Done with this beaker' }).press('Enter')
  await expect(inSheet(page).getByText('Buffer with water: the pH before anything is added')).toBeVisible()
  await expect(field(page, 'Potential shown')).toBeFocused()
  await page.getByRole('button', { name: /capacity per pH, at pH 6.9\d, buffer with acid/ }).focus()
  await page.keyboard.press('=')
  await expect(page.getByRole('region', { name: /Working/ })).toContainText('how many protons each molecule gives off')
  await page.keyboard.press('Escape')
  await field(page, 'Potential shown').focus()

  await read(page, 7.03)
  await expect(inSheet(page).getByText('Buffer with water: add 50 mL of deionised water')).toBeVisible()
  await expect(page.getByText('About 50.0 mL expected: type what you read.')).toBeVisible()
  await field(page, 'Water').press('Enter') // what is planned is no reading
  await expect(page.getByText('nothing written: write a number and its unit').first()).toBeVisible()
  await record(page, 'Water', '50.0')
  await read(page, 7.1)
  await expect(page.getByText(/Diluted 2.0 times the buffer moved by \+0.07 pH; theory says \+0.0\d/)).toBeVisible()
  await page.getByRole('button', { name: 'Done with this beaker' }).press('Enter')

  await read(page, 7.03)
  await expect(inSheet(page).getByText('Buffer at 40 °C: into the bath; how warm is it?')).toBeVisible()
  await record(page, 'Bath', '40')
  await expect(inSheet(page).getByText('Buffer at 40 °C: the pH in the bath')).toBeVisible()
  await read(page, 6.98)
  await expect(inSheet(page).getByText('which colour does bromothymol blue show')).toBeVisible()
  await page.keyboard.press('3')
  await expect(page.getByRole('heading', { name: 'Tested' })).toBeVisible()
  await expect(beaker(page, 'buffer at 40 °C')).toContainText('Seen in the bath: green')
  await page.reload()
  await expect(
    page.getByText(
      /Bromothymol blue in the bath: green was expected, green was seen|blue-green was expected, green was seen/,
    ),
  ).toBeVisible()
  await expect(page.getByRole('button', { name: /change of the pH, buffer at 40 °C/ })).toBeVisible()
})

test('a meter switched to pH: what it shows is typed as it stands, and corrected so', async ({ page }) => {
  await setUp(page)
  await field(page, 'In each beaker, mL').focus()
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: '1 Done', exact: true }).press('1')
  await expect(field(page, 'Potential shown')).toBeFocused()
  await page.getByRole('button', { name: 'The meter shows pH' }).click()
  await record(page, 'pH shown', '17')
  await expect(page.getByText('a meter shows pH −2 to 16')).toBeVisible()
  await field(page, 'pH shown').fill('7.03')
  await page.keyboard.press('Enter')
  await add(page)
  await expect(field(page, 'pH shown')).toBeFocused()
  await page.reload() // it is still switched to pH
  await record(page, 'pH shown', '6.91')
  await expect(beaker(page, 'buffer with acid').getByRole('row').nth(2)).toContainText(/2.00\s*6.91/)
  await page.getByRole('button', { name: 'Done with this beaker' }).press('Enter')
  await expect(inSheet(page).getByText('Buffer with base: the pH before anything is added')).toBeVisible()
  await expect(field(page, 'pH shown')).toBeFocused() // of the next beaker
  // Corrected where it stands in the table, by keyboard.
  await beaker(page, 'buffer with acid')
    .getByRole('button', { name: /^Correct the pH, 7\.03/ })
    .press('Enter')
  const form = beaker(page, 'buffer with acid').locator('.correction')
  await expect(form.getByLabel('pH shown', { exact: true })).toHaveValue(/^7.03/)
  await form.getByRole('button', { name: 'The meter shows mV' }).click()
  const shown = form.getByLabel('Potential shown', { exact: true })
  await shown.fill(potential(7.1))
  await form.getByLabel('Why').fill('the other display')
  await shown.press('Enter')
  await expect(beaker(page, 'buffer with acid').getByRole('row').nth(1)).toContainText('7.098')
})
