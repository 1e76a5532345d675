import { choose, expect, field, inSheet, record, signIn, test } from './bench'

test.use({ allow: [/409|422/] }) // the browser notes every refused request
test.beforeEach(async ({ page, lab }) => {
  lab.plug(true)
  await signIn(page)
})
test.afterEach(async ({ page, lab }) => {
  // whoever comes next finds water in the cell and the cable in
  for (const data of [{ link: 'ON' }, { bubble: 'OFF' }, { into: 'water' }])
    await page.request.post(`/api/v1/photometers/${dunlin(lab)}/standin`, { data })
})

type Page = import('@playwright/test').Page
type Lab = { database: { sql(query: string): string } }
const dunlin = (lab: Lab) => lab.database.sql("SELECT id FROM photometers WHERE name = 'Dunlin'")
const shows = (page: Page) => page.getByRole('group', { name: 'Photometer Dunlin' })
const hand = (page: Page, name: string) => page.getByRole('button', { name, exact: true }).click()

/** Takes what stands there once it is what is in the cell, by Enter. */
async function take(page: Page, value: RegExp, says: RegExp) {
  await expect(shows(page).getByText(value)).toBeVisible()
  await expect(shows(page).getByText('stands', { exact: true })).toBeVisible()
  const button = shows(page).getByRole('button', { name: 'Take it' })
  await button.focus()
  await button.press('Enter')
  await expect(inSheet(page).getByText(says)).toBeVisible()
}

test('a line and its unknown are read live: wavelength and blank first, a bubble read over again', async ({
  page,
  lab,
}) => {
  await page.goto('/absorbance')
  await choose(page, 'Read from', 'standards that are not on record')
  await field(page, 'What is measured').fill('Permanganate')
  await field(page, 'Wavelength, nm').fill('1050')
  await field(page, 'Unit').fill('mmol/L')
  await field(page, 'Concentrations').fill('0.1 0.2 0.3')
  await expect(page.getByText('Dunlin reaches 320 to 1000 nm')).toBeVisible()
  await field(page, 'Wavelength, nm').fill('540')
  await page.getByRole('button', { name: 'Add an unknown' }).click()
  await field(page, 'Name').fill('Pond')
  await page.getByRole('button', { name: /Begin with the blank/ }).click()
  await expect(page.getByRole('heading', { name: 'Permanganate at 540 nm' })).toBeVisible()

  // It stands at another wavelength; then the blank is set; each by Enter.
  await expect(shows(page).getByText('525 nm')).toBeVisible()
  const set = shows(page).getByRole('button', { name: 'Set 540 nm' })
  await set.focus()
  await set.press('Enter')
  await expect(shows(page).getByText('540 nm', { exact: true })).toBeVisible()
  const zero = shows(page).getByRole('button', { name: 'Set the blank to zero' })
  await expect(zero).toBeFocused()
  await zero.press('Enter')
  await take(page, /^−?0\.00[01] AU$/, /^Blank set to zero; it shows −?0\.00[01] AU, 540 nm, read from Dunlin$/)

  // The cell is filled with the tube at hand, by the hand that works the stand-in.
  await page.getByText('Stand-in photometer, by hand').click()
  await choose(page, 'What colours it', 'Permanganate')
  await hand(page, 'The tube at hand in')
  await expect(page.getByText('In the cell: Permanganate, 0.0001 mol/L')).toBeVisible()
  await take(page, /^0\.21\d AU$/, /^The standard of 0\.1 mmol\/L shows 0\.21\d AU, 540 nm, read from Dunlin$/)
  await hand(page, 'The tube at hand in')
  await hand(page, 'A bubble')
  await expect(page.getByText(/0\.0002 mol\/L, a bubble in it/)).toBeVisible()
  await take(page, /^0\.5[01]\d AU$/, /^The standard of 0\.2 mmol\/L shows 0\.5[01]\d AU/)
  await hand(page, 'Tap the bubble off')
  await hand(page, 'The tube at hand in')
  await expect(page.getByText('In the cell: Permanganate, 0.0003 mol/L')).toBeVisible()
  await take(page, /^0\.6[45]\d AU$/, /^The standard of 0\.3 mmol\/L shows 0\.6[45]\d AU/)

  // Read elsewhere, nothing is taken: the wheel is turned back first.
  await page.request.post(`/api/v1/photometers/${dunlin(lab)}/wavelength`, { data: { nm: 620 } })
  await expect(shows(page).getByRole('button', { name: 'Set 540 nm' })).toBeVisible()
  await expect(shows(page).getByRole('button', { name: 'Take it' })).toHaveCount(0)
  await hand(page, 'Set 540 nm Enter')
  await page.getByLabel('Or so strong, mol/L').fill('much')
  await hand(page, 'Fill the cell')
  await expect(page.getByText('Write a concentration in mol/L, like 1e-5')).toBeVisible()
  await page.getByLabel('Or so strong, mol/L').fill('0.00025')
  await hand(page, 'Fill the cell')
  await expect(page.getByText('In the cell: Permanganate, 0.00025 mol/L')).toBeVisible()
  await take(page, /^0\.5[34]\d AU$/, /^Pond shows 0\.5[34]\d AU/)

  // The one with the bubble is corrected by a reading that was typed.
  await page
    .getByRole('table', { name: 'Readings' })
    .getByRole('button', { name: /^Correct The standard of 0\.2 mmol\/L/i })
    .click()
  await page.getByLabel('Why').fill('a bubble; read again')
  await field(page, 'Absorbance shown').last().fill('0.433')
  await field(page, 'Absorbance shown').last().press('Enter')
  await expect(page.getByText(/^A = 2\.1\d*·c/)).toBeVisible()
  await page.getByRole('button', { name: /Keep this line/ }).click()
  await expect(page.getByRole('heading', { name: 'Measured' })).toBeVisible()
  const pond = page.locator('section.found', { hasText: 'Pond' })
  await expect(pond.getByText(/^0\.2[45]\d*$/).first()).toBeVisible()
})

test('a photometer scans by itself, and what it reads is kept', async ({ page, lab }) => {
  await page.goto('/scans')
  await field(page, 'What is scanned').fill('Permanganate, the strongest tube')
  await choose(page, 'Read', 'by the photometer')
  await field(page, 'From, nm').fill('450')
  await field(page, 'To, nm').fill('600')
  await field(page, 'Every, nm').fill('5')
  const scan = page.getByRole('button', { name: 'Tube in the beam: scan it' })
  await expect(scan).toBeDisabled() // the blank comes first
  await page.getByRole('button', { name: 'Blank in the beam: set zero everywhere' }).click()
  await expect(scan).toBeEnabled()
  await page.getByText('Stand-in photometer, by hand').click()
  await choose(page, 'What colours it', 'Permanganate')
  await page.getByLabel('Or so strong, mol/L').fill('2e-4')
  await hand(page, 'Fill the cell')
  await expect(page.getByText('In the cell: Permanganate, 0.0002 mol/L')).toBeVisible()
  await field(page, 'To, nm').fill('1200')
  await scan.click()
  await expect(page.getByText('Dunlin reaches 320 to 1000 nm').first()).toBeVisible()
  await field(page, 'To, nm').fill('600')
  await scan.click()
  await expect(page.getByText('31 points, 450 to 600 nm.')).toBeVisible()
  await expect(page.getByRole('complementary').getByText(/looks purple/)).toBeVisible()
  await page.getByRole('button', { name: /Keep this scan/ }).click()
  await expect(page.getByText('read by Dunlin')).toBeVisible()
  await record(page, 'Measure at', '526')
  await expect(page.getByRole('heading', { name: 'Scanned' })).toBeVisible()

  // Without its cable it says so, and the reading is typed.
  lab.plug(false)
  await page.goto('/scans')
  await choose(page, 'Read', 'by the photometer')
  await expect(page.getByText(/Dunlin is not connected\. Its address stands under/)).toBeVisible()
})

test('a photometer is entered, connected and refused where it cannot be', async ({ page, lab }) => {
  await page.goto('/setup/photometers')
  await field(page, 'Name').fill('Snipe')
  await field(page, 'Reaches from, nm').fill('100')
  await page.getByRole('button', { name: 'Add it' }).click()
  await expect(
    page.getByText('it reaches from a lower to a higher wavelength, within 190 to 1100 nm').first(),
  ).toBeVisible()
  await field(page, 'Reaches from, nm').fill('340')
  await field(page, 'to, nm').fill('980')
  await field(page, 'Bandwidth, nm').fill('8')
  await field(page, 'Stray light, %').fill('0.1')
  await field(page, 'Last digit, AU').fill('0.01')
  await page.getByRole('button', { name: 'Add it' }).click()
  await expect(page.getByRole('row', { name: /Snipe 340 to 980 8 0\.1 0\.01 –/ })).toBeVisible()
  await page.getByRole('button', { name: 'Open Snipe' }).click()
  const address = page.getByLabel('Connected at host:port, empty when it is not')
  await address.fill('bench.example:80')
  await page.getByRole('button', { name: 'Keep this address' }).click()
  await expect(page.getByText(/the address of an instrument is a number/)).toBeVisible()
  await address.fill(lab.database.sql("SELECT address FROM photometers WHERE name = 'Dunlin'"))
  await page.getByRole('button', { name: 'Keep this address' }).click()
  await expect(page.getByRole('row', { name: /Snipe 340 to 980 8 0\.1 0\.01 127\.0\.0\.1/ })).toBeVisible()
  await page.reload()
  await page.getByRole('button', { name: 'Open Dunlin' }).click()
  await expect(page.getByText('Phosphate as molybdate blue at 880 nm')).toBeVisible() // what depends on it
})
