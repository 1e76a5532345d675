import { readFileSync } from 'node:fs'
import { choose, expect, field, inSheet, record, signIn, test } from './bench'

type Page = import('@playwright/test').Page

test.use({ allow: [/409|422/] }) // the browser notes every refused request
test.beforeEach(async ({ page }) => signIn(page))

const shown = 'Absorbance shown'
const read = async (page: Page, text: string, after: string | RegExp) => {
  await record(page, shown, text)
  await expect(inSheet(page).getByText(after)).toBeVisible()
}

/** The rack of six phosphate tubes of the sample records, with some unknowns. */
async function question(page: Page, unknowns: [name: string, owner: string, diluted: string][]) {
  await page.goto('/absorbance')
  await field(page, 'What is measured').fill('Phosphate as molybdate blue')
  await field(page, 'Wavelength, nm').fill('880')
  const rack = page.getByRole('group', { name: /Rack of run 31/ })
  await rack.getByRole('button', { name: 'Take the whole rack' }).click()
  await expect(rack.getByRole('checkbox', { checked: true })).toHaveCount(6)
  for (const [i, [name, owner, diluted]] of unknowns.entries()) {
    await page.getByRole('button', { name: i ? 'Another unknown' : 'Add an unknown' }).click()
    const fields = page.getByRole('group', { name: `Unknown ${i + 1}` })
    await fields.getByLabel('Name').fill(name)
    await fields.getByLabel('Whose it is').fill(owner)
    if (diluted) await fields.getByLabel('Diluted before, times').fill(diluted)
  }
}
const rack = ['0.001', '0.147', '0.294', '0.489', '0.585', '0.730']
const begin = (page: Page) => page.getByRole('button', { name: /Begin with the blank/ }).click()
const table = (page: Page) => page.getByRole('table', { name: 'Readings' })

test('a rack is measured, a bad point struck with a reason, and each unknown goes back to its sample', async ({
  page,
}) => {
  await question(page, [
    ['Pond, at the inlet', 'Marlow Finch', '5'],
    ['Ditch', 'Tamsin Reed', ''],
  ])
  await expect(
    page.getByRole('complementary').getByText('As in run 36, they will read about 0.00 to 0.73 AU.'),
  ).toBeVisible()
  await begin(page)
  await expect(page.getByRole('heading', { name: 'Phosphate as molybdate blue at 880 nm' })).toBeVisible()
  await read(page, '0', 'Blank set to zero; it shows 0 AU')
  // What no photometer shows is refused, and a transmittance is as good as an absorbance.
  await record(page, shown, '7')
  await expect(page.getByText('7 AU: photometers show −0.5 to 4 AU. Is it a transmittance in %T?')).toBeVisible()
  await field(page, shown).fill('99.77 %T')
  await field(page, shown).press('Enter')
  await expect(inSheet(page).getByText('Bottle 10 shows 99.77 %T')).toBeVisible()
  for (const [i, text] of rack.slice(1).entries()) await read(page, text, `Bottle ${11 + i} shows ${text} AU`)
  // What is off the line is named before the unknowns are read.
  await expect(
    page.getByRole('complementary').getByText(/^Bottle 13, 0\.489 at 0\.5991 mg\/L P, lies [\d.]+ standard deviations/),
  ).toBeVisible()
  await read(page, '0.352', 'Pond, at the inlet shows 0.352 AU')
  await read(page, '1.9', 'Ditch shows 1.9 AU')
  await expect(inSheet(page).getByText(/^Bottle 13, 0\.489 at 0\.5991 mg\/L P, lies/)).toBeVisible()

  // Struck with a reason, it stays in the table and the line goes on without it.
  await table(page).getByRole('button', { name: 'Strike bottle 13' }).click()
  await field(page, 'Why it is struck').fill('a bubble on the wall')
  await page.getByRole('button', { name: 'Strike it' }).click()
  await expect(table(page).getByText('Struck: a bubble on the wall')).toBeVisible()
  await expect(page.getByText(/^A = 0\.729\d*·c \+ 0\.001\d* with c in mg\/L P; R² (above )?0\.9999/)).toBeVisible()
  const inlet = page.locator('section.found', { hasText: 'Pond, at the inlet, Marlow Finch' })
  await expect(inlet.getByText('2.40').first()).toBeVisible()
  await expect(inlet.getByText('in the cell')).toBeVisible()
  await inlet.getByText('By other ways to read it').click()
  await expect(inlet.getByText('line with intercept, all that adds to it: counts here')).toBeVisible()
  await expect(inlet.getByText(/^0\.47\d+ to 0\.48\d+ mg\/L P$/).first()).toBeVisible()

  // The working of a figure opens beside it.
  await page.keyboard.press('=')
  await expect(page.getByRole('heading', { name: /Pond, at the inlet, before it was diluted/ })).toBeVisible()
  await expect(page.getByText('F: how many times it had been diluted')).toBeVisible()
  await page.keyboard.press('Escape')

  // Keeping the line ends the run; a correction afterwards moves what it gave.
  await page.getByRole('button', { name: /Keep this line/ }).click()
  await expect(page.getByRole('heading', { name: 'Measured' })).toBeVisible()
  await page.reload()
  await table(page).getByRole('button', { name: 'Correct Pond, at the inlet, 0.352 AU' }).click()
  await page.getByLabel('Why').fill('misread')
  await field(page, shown).fill('0.452')
  await field(page, shown).press('Enter')
  await expect(inlet.getByText(/^3\.0[89]\d*$/).first()).toBeVisible()

  // Too strong: the dilution opens filled in.
  const ditch = page.locator('section.found', { hasText: 'Ditch, Tamsin Reed' })
  await expect(ditch.getByText(/is beyond the strongest standard, 0\.9995 mg\/L P: dilute it 6 times/)).toBeVisible()
  await ditch.getByRole('button', { name: 'Plan the dilution, 1 in 6' }).click()
  await expect(page.getByRole('heading', { name: 'What is on the shelf, and what is wanted?' })).toBeVisible()
  await expect(page.getByRole('textbox', { name: /^To \(1 in 100/ })).toHaveValue('1 in 6')

  // And back: diluted, it is read from the line that was kept, and carried to the sample.
  await page.goto('/absorbance')
  await choose(page, 'Read from', 'a line that was measured before')
  await page.getByRole('button', { name: 'Add an unknown' }).click()
  await field(page, 'Name').fill('Ditch, a sixth')
  await field(page, 'Diluted before, times').fill('6')
  await begin(page)
  await expect(page.getByRole('heading', { name: /read from the line of run \d+/ })).toBeVisible()
  await read(page, '0.000', 'Blank set to zero; it shows 0.000 AU')
  await read(page, '0.317', 'Ditch, a sixth shows 0.317 AU')
  const sixth = page.locator('section.found', { hasText: 'Ditch, a sixth' })
  await expect(sixth.getByText('2.59').first()).toBeVisible()
  await page.getByRole('button', { name: /Keep these readings/ }).click()
  await expect(page.getByRole('heading', { name: 'Measured' })).toBeVisible()
})

test('what cannot be measured is said beside its field; two cells are matched; the eye is compared', async ({
  page,
}) => {
  await question(page, [['Pond', '', '']])
  await field(page, 'Wavelength, nm').fill('1200')
  await expect(page.getByText('a wavelength is in nm, from 190 to 1100')).toBeVisible()
  await field(page, 'Wavelength, nm').fill('880')
  await page.getByText('9: Sodium hydroxide, 0.1 mol/L', { exact: true }).click()
  await expect(page.getByText(/is told in mol\/L, the line in mg\/L P: take standards of one rack/)).toBeVisible()
  await page.getByText('9: Sodium hydroxide, 0.1 mol/L', { exact: true }).click()
  await choose(page, 'Cells', 'two, matched first')
  await page.getByText('Guess unknowns by eye first').click()
  await begin(page)
  await read(page, '0.012', 'Cell 2 with the blank in it shows 0.012 AU')
  await expect(page.getByText('Cell 2 differs by 0.012 AU, more than 0.01: clean it, or leave it out.')).toBeVisible()
  await read(page, '0.000', 'Blank set to zero; it shows 0.000 AU')
  await page.getByRole('button', { name: /Between 0\.4 mg\/L P and 0\.599 mg\/L P/ }).click()
  await expect(inSheet(page).getByText('Pond seems to the eye between 0.4 mg/L P and 0.599 mg/L P')).toBeVisible()
  for (const [i, text] of ['0.001', '0.159', '0.294', '0.450', '0.585', '0.742'].entries())
    await read(page, text, `Bottle ${10 + i} shows ${text} AU`)
  await read(page, '0.352', 'Pond shows 0.352 AU')
  await expect(table(page).getByRole('row', { name: /Bottle 11/ })).toContainText('0.147') // less its cell
  await expect(page.getByText(/By eye between 0\.4 mg\/L P and 0\.599 mg\/L P\. The reading agrees\./)).toBeVisible()
  // The blank is set again when a person wants it.
  await table(page).getByRole('button', { name: 'Set the blank again' }).click()
  await read(page, '0.002', 'Blank set to zero; it shows 0.002 AU')
  await table(page).getByRole('button', { name: 'Read Pond once more' }).click()
  await read(page, '0.354', 'Pond shows 0.354 AU')
  await expect(table(page).getByRole('row', { name: /^Pond/ })).toContainText('0.352')
})

test('standards that are not on record are typed', async ({ page }) => {
  await page.goto('/absorbance')
  await choose(page, 'Read from', 'standards that are not on record')
  await field(page, 'What is measured').fill('Food dye')
  await field(page, 'Concentrations').fill('0 1 two 3')
  await field(page, 'Unit').fill('mg/L')
  await begin(page)
  await expect(page.locator('.problem').filter({ hasText: /two/ }).first()).toBeVisible()
  await field(page, 'Concentrations').fill('0 1 2 3')
  await field(page, 'Unit').fill('g')
  await begin(page)
  await expect(page.getByText('concentrations are told per volume, like mg/L or mmol/L, not in g')).toBeVisible()
  await field(page, 'Unit').fill('mg/L')
  await begin(page)
  await read(page, '0', 'Blank set to zero; it shows 0 AU')
  for (const [i, text] of ['0.00', '0.11', '0.22', '0.33'].entries())
    await read(page, text, `The standard of ${i} mg/L shows ${text} AU`)
  await expect(page.getByRole('button', { name: /Keep this line/ })).toBeVisible()
  await expect(inSheet(page).getByText('Only 4 concentrations: 5 or more show a bend and a slip.')).toBeVisible()
})

test('a scan by hand finds the maximum between the readings, and the line is measured there', async ({ page }) => {
  await page.goto('/absorbance')
  await page.getByRole('link', { name: 'Scans' }).click()
  await field(page, 'What is scanned').fill('Permanganate, the strongest tube')
  await field(page, 'From, nm').fill('450')
  await field(page, 'To, nm').fill('610')
  await field(page, 'Every, nm').fill('1')
  await expect(page.getByText('by hand at most 60 wavelengths are read: 3 nm apart or more')).toBeVisible()
  await field(page, 'Every, nm').fill('20')
  await page.getByRole('button', { name: /Begin the scan/ }).click()
  const bands = ['0.050', '0.157', '0.356', '0.565', '0.612', '0.480', '0.255', '0.103', '0.032']
  for (const [i, text] of bands.entries()) await read(page, text, `At ${450 + 20 * i} nm it shows ${text} AU`)
  await expect(inSheet(page).getByText(/^Measure at 52\d nm: the maximum lies at 52\d\.\d ±/)).toBeVisible()
  await expect(page.getByText(/it takes out green light\. What is left looks purple/)).toBeVisible()
  await record(page, 'Measure at', '525')
  await expect(page.getByText('To be measured at 525 nm.')).toBeVisible()
  // Over an earlier scan: beside it, and as a difference.
  await choose(page, 'Over it, in amber', /Scan of molybdate blue/)
  await expect(page.locator('path.line.amber')).toHaveCount(1)
  const [saved] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'CSV' }).click()])
  expect(
    readFileSync((await saved.path())!, 'utf8')
      .split('\n')
      .slice(0, 3),
  ).toEqual(['wavelength (nm),absorbance', '450,0.05', '470,0.157'])
  await page.getByRole('button', { name: 'Measure a line there' }).click()
  await expect(field(page, 'Wavelength, nm')).toHaveValue('525')
})

test('a spectrum comes in as JCAMP-DX and goes out as it came; a fault is named by its line', async ({ page }) => {
  await page.goto('/scans')
  await choose(page, 'Read', 'from a file')
  const head =
    '##TITLE=Iron with phenanthroline\n##JCAMP-DX=4.24\n##DATA TYPE=UV/VIS SPECTRUM\n##XUNITS=NANOMETERS\n##YUNITS=ABSORBANCE\n'
  const data = (lines: string) =>
    `${head}##FIRSTX=470\n##LASTX=550\n##NPOINTS=9\n##YFACTOR=0.001\n##XYDATA=(X++(Y..Y))\n${lines}\n##END=\n`
  const file = (text: string) => ({ name: 'iron.jdx', mimeType: 'text/plain', buffer: Buffer.from(text) })
  const chooser = page.getByLabel('JCAMP-DX or CSV')
  // 400 520 620 690 720 700 640 540 420, as differences; the second line does not begin where the first one ends.
  await chooser.setInputFiles(file(data('470D00A20\n480E20I')))
  await expect(page.getByText(/line 1[12]: /)).toBeVisible()
  await chooser.setInputFiles(file(data('470D00J20J00P0L0k0o0\n530F40j00j20\n550D20')))
  await expect(field(page, 'What is scanned')).toHaveValue('Iron with phenanthroline')
  await expect(page.getByText('9 points, 470 to 550 nm.')).toBeVisible()
  await expect(
    page.getByRole('complementary').getByText(/takes out green light\. What is left looks purple/),
  ).toBeVisible()
  await page.getByRole('button', { name: /Keep this scan/ }).click()
  await expect(page.getByText('from iron.jdx')).toBeVisible()
  await record(page, 'Measure at', '510')
  await expect(page.getByRole('heading', { name: 'Scanned' })).toBeVisible()
  const [saved] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'JCAMP-DX', exact: true }).click(),
  ])
  const text = readFileSync((await saved.path())!, 'utf8')
  expect(text).toContain('##TITLE=Scan of iron with phenanthroline')
  expect(text).toContain('##NPOINTS=9')
  const answer = await page.request.post('/api/v1/compute/spectrum', { data: { text } })
  expect((await answer.json()).spectra[0].y.map((y: number) => y.toFixed(3))).toEqual([
    '0.400',
    '0.520',
    '0.620',
    '0.690',
    '0.720',
    '0.700',
    '0.640',
    '0.540',
    '0.420',
  ])
})

test('additions to a sample give what it has, and its working', async ({ page }) => {
  await page.goto('/absorbance')
  await choose(page, 'Read from', 'additions of a standard to the sample')
  await field(page, 'What is measured').fill('Iron in the pond')
  await field(page, 'Wavelength, nm').fill('510')
  await field(page, 'Made up to, mL').fill('8')
  await expect(page.getByText('5 mL of sample and 4 mL of standard do not fit into 8 mL')).toBeVisible()
  await field(page, 'Made up to, mL').fill('25')
  await expect(page.getByRole('group', { name: /Unknown/ })).toHaveCount(0)
  await begin(page)
  await expect(page.getByRole('heading', { name: 'Iron in the pond by standard additions at 510 nm' })).toBeVisible()
  await read(page, '0.000', 'Blank set to zero; it shows 0.000 AU')
  for (const [i, text] of ['0.041', '0.080', '0.121', '0.160', '0.201'].entries())
    await read(page, text, `The portion with ${i} mL added shows ${text} AU`)
  await expect(page.getByText(/drawn back to no absorbance/)).toBeVisible()
  // 0.0406 AU at 0.1 AU per mg/L in the portion, of which a fifth is sample.
  const sample = page.locator('section.added')
  await expect(sample.getByText('2.03', { exact: true })).toBeVisible()
  await expect(page.getByText(/The intercept, .*, differs from zero/)).toHaveCount(0)
  await sample.getByRole('button').first().click()
  await expect(page.getByRole('heading', { name: /the sample, by standard additions/i })).toBeVisible()
  await expect(page.getByText('V: what every portion is made up to')).toBeVisible()
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: /Keep this result/ }).click()
  await expect(page.getByRole('heading', { name: 'Measured' })).toBeVisible()
  await page.reload()
  await expect(sample.getByText('2.03', { exact: true })).toBeVisible()
  // It is no line that others are read from.
  await page.goto('/absorbance')
  await choose(page, 'Read from', 'a line that was measured before')
  await page.getByRole('combobox', { name: 'Line', exact: true }).focus()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('option', { name: /Phosphate as molybdate blue/ }).first()).toBeVisible()
  await expect(page.getByRole('option', { name: /Iron in the pond/ })).toHaveCount(0)
})

test('readings are expected by an earlier line, weigh by their scatter, and keep a remark', async ({ page }) => {
  await question(page, [['Ditch', '', '']])
  const beside = page.getByRole('complementary')
  await expect(beside.getByText(/^As in run \d+, they will read about 0\.00 to 0\.73 AU\.$/)).toBeVisible()
  await field(page, 'Path through the cell, mm').fill('20')
  await expect(beside.getByText(/The strongest is above 0\.8: take a shorter path/)).toBeVisible()
  await field(page, 'Path through the cell, mm').fill('10')
  await choose(page, 'Readings of the line scatter', 'more when strong')
  await field(page, 'Near zero by, AU').fill('5')
  await expect(page.getByText(/the scatter of a reading of nothing is from/)).toBeVisible()
  await field(page, 'Near zero by, AU').fill('0.002')
  await field(page, 'And by % of the reading').fill('2')
  await page.getByText('Read the temperature too').click()
  await begin(page)
  await read(page, '0', 'Blank set to zero; it shows 0 AU')
  await record(page, 'Temperature', '20.5')
  await expect(inSheet(page).getByText('Temperature of the standards: 20.5 °C')).toBeVisible()
  await expect(page.getByText(/^About 0\.00 AU expected/)).toBeVisible()
  await page.getByText('a bubble', { exact: true }).click()
  await expect(page.getByRole('checkbox', { name: 'a bubble' })).toBeChecked()
  await read(page, '0.001', 'Bottle 10 shows 0.001 AU (a bubble)')
  await expect(page.getByRole('checkbox', { name: 'a bubble' })).not.toBeChecked()
  await expect(page.getByText(/Read with a remark: a bubble\. Put it right/).first()).toBeVisible()
  for (const [i, text] of rack.slice(1).entries()) await read(page, text, `Bottle ${11 + i} shows ${text} AU`)
  await expect(page.getByText(/; each reading weighs by its scatter$/)).toBeVisible()
  await record(page, 'Temperature', '24')
  await expect(
    table(page).getByRole('button', { name: 'Correct the temperature of the unknowns, 24 °C' }),
  ).toBeVisible()
  await read(page, '0.352', 'Ditch shows 0.352 AU')
  await expect(
    page.getByText(/^The unknowns were at 24 °C, and the standards of their line at 20\.5 °C/).first(),
  ).toBeVisible()
  await page.locator('section.found', { hasText: 'Ditch' }).getByText('By other ways to read it').click()
  await expect(page.getByText('weighted line with intercept, all that adds to it: counts here')).toBeVisible()
})
