import { readFile } from 'node:fs/promises'
import { choose, expect, field, inSheet, signIn, test } from './bench'

type Page = import('@playwright/test').Page

test.use({ allow: [/409|422/] }) // the browser notes every refused request
test.beforeEach(async ({ page }) => signIn(page))

const shows = (page: Page, meter: string) => page.getByRole('group', { name: `pH meter ${meter}` })

/** Readings of a meter are typed, as without a cable. */
function unplug(lab: { database: { change: (text: string) => void } }, meter: string) {
  lab.database.change(`UPDATE meters SET address = '' WHERE name = '${meter}'`)
}

/** Takes a calibration in the buffers that are proposed to the bench. */
async function begin(page: Page, meter: string) {
  await page.goto('/meters')
  await expect(page.getByRole('heading', { name: 'Which meter can you trust today?' })).toBeVisible()
  await choose(page, 'Meter', meter)
  await expect(page.getByRole('cell', { name: '9.21' })).toBeVisible() // borax at the 21.4 °C of the bench
  await page.getByRole('button', { name: 'Take it to the bench' }).click()
  await expect(page.getByRole('heading', { name: `Calibration of ${meter}, pH 6.88, 4.00, 9.21` })).toBeVisible()
}

/** Rinsed, and into the next buffer. */
async function dip(page: Page) {
  await expect(page.getByRole('button', { name: 'The probe is in' })).toBeFocused()
  await page.keyboard.press('1')
}

/** A potential as somebody reads and types it. */
async function type(page: Page, mV: string) {
  await expect(field(page, 'Potential shown')).toBeFocused()
  await page.keyboard.type(mV)
  await page.keyboard.press('Enter')
}

test('three buffers live from the stand-in, by keyboard alone', async ({ page, lab }) => {
  const id = lab.database.sql("SELECT id FROM meters WHERE name = 'Heron'")
  const hand = (data: object) => page.request.post(`/api/v1/meters/${id}/standin`, { data })
  await hand({ time: 0.5 })
  await begin(page, 'Heron')
  await expect(page.getByRole('button', { name: 'It stood wet' })).toBeFocused()
  await page.keyboard.press('1')
  for (const buffer of ['phosphate', 'phthalate', 'borax']) {
    await hand({ do: 'RINSE' })
    await hand({ into: `${buffer} 21.4` })
    await dip(page)
    const take = shows(page, 'Heron').getByRole('button', { name: 'Take it' })
    await expect(take).toBeFocused()
    if (buffer === 'phosphate') {
      // Too early it asks; once it has settled there is nothing left to ask.
      await expect(shows(page, 'Heron').getByText(/watched \d of 10 s/)).toBeVisible()
      await page.keyboard.press('Enter')
      await expect(page.getByText('nobody can tell yet whether it stands')).toBeVisible()
      await expect(page.getByRole('button', { name: 'Wait until it has settled' })).toBeFocused()
    }
    if (buffer === 'phthalate')
      await expect(shows(page, 'Heron').getByText(/goes to 1[78]\d\.\d ± .* mV, settled in about/)).toBeVisible()
    await expect(shows(page, 'Heron').getByText('has settled')).toBeVisible({ timeout: 60_000 })
    await expect(page.getByText('nobody can tell yet whether it stands')).toBeHidden()
    await expect(take).toBeFocused()
    await page.keyboard.press('Enter')
  }
  // The stand-in scatters as a probe does: 98.6 % within ± 0.7 %, 4.7 mV within ± 0.9 mV (k = 2); four times that is let in.
  await expect(page.getByText(/^(9[6-9]|10[01])\.\d % of the theoretical slope: good\./)).toBeVisible()
  await expect(page.getByText(/^[1-8]\.\d mV at pH 7: good\./)).toBeVisible()
  await page.keyboard.press('=')
  await expect(
    page.getByRole('region', { name: 'Working: slope' }).getByText(/^(0\.9[6-9]|1\.0[01])\d\d ± 0\.0\d\d\d/),
  ).toBeVisible()
  await page.keyboard.press('Escape')
  await page.keyboard.press('1')
  await expect(page.getByRole('heading', { name: 'Taken into use' })).toBeVisible()
  const printed = (await page.pdf({ format: 'A4' })).toString('latin1')
  expect(printed.match(/\/Type\s*\/Page\b/g)).toHaveLength(1) // the record is one page
  const [number] = /\d+/.exec((await page.getByText(/^probe 3 · /).textContent())!.split('run')[1]!)!
  await page.reload()
  await page.getByRole('link', { name: 'pH', exact: true }).click()
  const card = page.getByRole('article', { name: 'Heron' })
  await expect(card.getByText('Calibrated less than an hour ago, good for 7 h more.')).toBeVisible()
  await expect(card.getByRole('link', { name: `Run ${number}` })).toBeVisible()
  await expect(card.getByText(/time constant \d+\.\d+\u202fs/)).toBeVisible() // how long it is depends on the machine
  await expect(page.getByRole('button', { name: 'pH meter Heron, calibrated' })).toBeVisible()
  await page.getByRole('button', { name: 'History of the probe' }).last().click()
  await expect(page.getByRole('region', { name: 'History of Heron' }).getByRole('row')).toHaveCount(9) // the last eight
})

test('taken too early, and the cable pulled: the reading is marked, typed, taken again', async ({ page, lab }) => {
  const id = lab.database.sql("SELECT id FROM meters WHERE name = 'Coot'")
  const hand = (data: object) => page.request.post(`/api/v1/meters/${id}/standin`, { data })
  await page.goto('/meters')
  const before = (await page
    .getByRole('article', { name: 'Coot' })
    .getByRole('link', { name: /^Run \d+$/ })
    .textContent())!
  await begin(page, 'Coot')
  await expect(page.getByRole('button', { name: 'It was dry' })).toBeVisible()
  await page.keyboard.press('2')
  await expect(page.getByRole('heading', { name: 'Soak it in storage solution for 10 min at least' })).toBeVisible()
  await expect(page.getByText(/The bulb, since \d\d:\d\d: 0:\d\d min of 10 min/)).toBeVisible()
  await page.keyboard.press('1')
  await expect(page.getByText('Soaked for 0 of 10 min: look whether it still creeps.')).toBeVisible()
  await hand({ do: 'RINSE' })
  await hand({ into: 'phosphate 21.4' })
  await dip(page)
  await expect(shows(page, 'Coot').getByRole('button', { name: 'Take it' })).toBeFocused()
  await expect(shows(page, 'Coot').getByText(/mV$/)).toBeVisible()
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Take it all the same' }).click()
  await expect(page.getByText(/^Taken before it had settled: it still moved by \d/)).toBeVisible()
  await expect(page.getByRole('button', { name: 'Take this buffer again' })).toBeFocused()
  await page.keyboard.press('1')
  await dip(page)
  await hand({ link: 'OFF' })
  await expect(page.getByText('Coot does not answer: look at the cable and the power.')).toBeVisible()
  await field(page, 'Potential shown').fill('-10,6')
  await page.keyboard.press('Enter')
  await expect(page.getByText('−10.6 mV in phosphate 1:1, 0.025 mol/kg, 21.4 °C')).toBeVisible()
  await page.getByRole('button', { name: 'Give this run up' }).click()
  await page.getByLabel('Why it is given up').fill('the fire drill')
  await page.getByRole('button', { name: 'Void this run' }).click()
  await expect(page.getByText('This run is void: given up: the fire drill')).toBeVisible()
  await hand({ link: 'ON' })
  await page.goto('/meters') // the old one still applies, and is named
  await expect(page.getByRole('article', { name: 'Coot' }).getByRole('link', { name: before })).toBeVisible()
  await expect(page.getByRole('article', { name: 'Coot' }).getByText(/time constant 11\.2/)).toBeVisible()
})

test('typed without a cable: the wrong buffer is told, swapped ones too, and nonsense is refused', async ({
  page,
  lab,
}) => {
  unplug(lab, 'Heron')
  await begin(page, 'Heron')
  await page.keyboard.press('1')
  await dip(page)
  await type(page, '175.1') // phthalate, where phosphate should be
  await expect(
    page.getByText(
      '175.1 mV is what hydrogen phthalate, 0.05 mol/kg gives; phosphate 1:1, 0.025 mol/kg gives about 7 mV. Look at the bottle.',
    ),
  ).toBeVisible()
  await page.keyboard.press('2') // kept all the same
  await dip(page)
  await expect(field(page, 'Potential shown')).toBeFocused()
  await page.keyboard.type('1700')
  await page.keyboard.press('Enter')
  await expect(page.getByText('1700 mV: a probe gives −1000 to 1000 mV')).toBeVisible()
  await field(page, 'Potential shown').fill('7.2')
  await field(page, 'Temperature').fill('120')
  await page.keyboard.press('Enter')
  await expect(page.getByText('120 °C: probes are read between 0 and 60 °C here')).toBeVisible()
  await field(page, 'Temperature').fill('21.4')
  await page.keyboard.press('Enter')
  await expect(page.getByText('7.2 mV is what phosphate')).toBeVisible()
  await page.keyboard.press('2')
  await dip(page)
  await type(page, '-127.5')
  await expect(
    page.getByText('hydrogen phthalate, 0.05 mol/kg and phosphate 1:1, 0.025 mol/kg are swapped'),
  ).toBeVisible()
  await expect(page.getByRole('button', { name: 'Do not use it: calibrate again' })).toBeFocused()
  // The right readings were in the wrong rows: taken again, the line is good.
  await page.getByRole('button', { name: 'Take pH 6.88 again' }).click()
  await dip(page)
  await type(page, '7.2')
  await expect(inSheet(page).getByText('7.2 mV in phosphate')).toBeVisible()
  await page.getByRole('button', { name: 'Take pH 4.00 again' }).click()
  await dip(page)
  await type(page, '175.1')
  await expect(page.getByText(/^99\.\d % of the theoretical slope: good\./)).toBeVisible()
  await page.keyboard.press('1')
  await expect(page.getByRole('heading', { name: 'Taken into use' })).toBeVisible()
})

test('a log of samples: outside the span, rain, a check that fails, a correction', async ({ page, lab }) => {
  unplug(lab, 'Heron')
  await begin(page, 'Heron')
  await page.keyboard.press('1')
  for (const mV of ['7.2', '175.1', '-127.5']) {
    await dip(page)
    await type(page, mV)
  }
  await expect(page.getByText(/^99\.\d % of the theoretical slope: good\./)).toBeVisible()
  await page.keyboard.press('1')
  await page.getByRole('link', { name: 'Read samples with it' }).click()
  await page.getByRole('button', { name: 'Begin the log' }).click()
  await expect(page.getByText('say what is read, in at most 60 letters')).toBeVisible()
  await field(page, 'Samples, in a few words').fill('Pond, Tuesday')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: 'Pond, Tuesday: pH with Heron' })).toBeVisible()
  const rows = page.getByRole('list', { name: 'Readings' }).getByRole('listitem')
  const read = async (sample: string, mV: string, celsius = '21.4') => {
    await expect(field(page, 'Sample')).toBeFocused()
    await page.keyboard.type(sample)
    await page.keyboard.press('Enter')
    await expect(field(page, 'Potential shown')).toBeFocused()
    await page.keyboard.type(mV)
    await field(page, 'Temperature').fill(celsius)
    await page.keyboard.press('Enter')
  }
  await read('Inlet', '-20.0')
  await expect(rows.nth(0).getByRole('button', { name: /^pH: 7\.3\d/ })).toBeVisible()
  await read('Spring', '210')
  await expect(rows.nth(1).getByText('Just outside the calibration: the buffers went from 4.00 to 9.21.')).toBeVisible()
  await read('Lye', '-250')
  await expect(
    rows.nth(2).getByText(/pH outside the calibration: .* Calibrate with a buffer beyond it, then read again\./),
  ).toBeVisible()
  await expect(field(page, 'Sample')).toBeFocused()
  await choose(page, 'What is read', 'Rain, deionised or very soft water')
  await field(page, 'Sample').fill('Rain butt')
  await field(page, 'Potential shown').fill('60')
  await page.keyboard.press('Enter')
  await expect(rows.nth(3).getByText('no pH')).toBeVisible()
  await expect(rows.nth(3).getByText('a meter does not read this water')).toBeVisible()

  await expect(field(page, 'Sample')).toBeFocused()
  await choose(page, 'What is read', 'Check buffer: phosphate')
  await expect(field(page, 'Sample')).toBeHidden()
  await field(page, 'Potential shown').fill('2')
  await page.keyboard.press('Enter')
  await expect(
    rows
      .nth(4)
      .getByText(
        /phosphate 1:1, 0.025 mol\/kg reads 6\.9\d, \+0\.\d\d pH from its 6\.88 at 21\.4 °C\. Calibrate again/,
      ),
  ).toBeVisible()
  await expect(
    rows.nth(0).getByText(/^The check in phosphate .* failed, and none was good after this reading/),
  ).toBeVisible()

  // Without the meter: paper with its colour, litmus both ways, a tube from the bath too soon.
  await choose(page, 'What is read', 'Without the meter: indicator paper')
  await field(page, 'Sample').fill('Inlet')
  await field(page, 'From pH').fill('7.5')
  await field(page, 'to pH').fill('7')
  await page.keyboard.press('Enter')
  await expect(page.getByText('the range goes from the lower pH (7.5) to the higher one')).toBeVisible()
  await field(page, 'to pH').fill('8')
  await field(page, 'Colour in words').fill('blue-green')
  await page.keyboard.press('Enter')
  await expect(rows.nth(5).getByText('pH 7.5 to 8, indicator paper, blue-green')).toBeVisible()
  for (const paper of ['red litmus stayed red', 'blue litmus stayed blue']) {
    await choose(page, 'What is read', `Without the meter: ${paper}`)
    await field(page, 'Sample').fill('Pond')
    await page.getByRole('button', { name: /^Record/ }).click()
    await expect(rows.filter({ hasText: paper })).toBeVisible()
  }
  await expect(rows.nth(6).getByText('Not alkaline. Take blue litmus too')).toBeVisible()
  await expect(rows.nth(7).getByText('Both stayed: about neutral, pH 5 to 8.')).toBeVisible()
  await choose(page, 'What is read', 'A tube goes into a warm or cold bath')
  await field(page, 'Sample').fill('Tube 1')
  await field(page, 'Bath, °C').fill('60')
  await page.keyboard.press('Enter')
  await expect(rows.nth(8).getByText('at 60 °C')).toBeVisible()
  await expect(page.getByText(/Tube 1, since \d\d:\d\d: 0:\d\d min of 5 min/)).toBeVisible()
  await choose(page, 'What is read', 'Its colour beside the untouched control')
  await field(page, 'Sample').fill('Tube 1')
  await page.getByRole('button', { name: /^Record/ }).click()
  await expect(page.getByText('say the colour in words beside the control')).toBeVisible()
  await field(page, 'Colour in words').fill('more red than the control')
  await page.keyboard.press('Enter')
  await expect(
    rows.nth(9).getByText('In the bath for 0 of 5 min: look again when it has come to its temperature.'),
  ).toBeVisible()
  await expect(page.getByRole('img', { name: 'The samples on the pH scale' })).toBeVisible()

  // Samples from a table, all or none.
  const file = page.getByLabel('From a table (CSV with the columns sample, shown, °C, note)')
  const csv = (text: string) => ({ name: 'samples.csv', mimeType: 'text/csv', buffer: Buffer.from(text) })
  await file.setInputFiles(csv('sample;shown;°C;note\nWeir;-25,4;19,5;\nMill;1700;;\n'))
  await expect(page.getByText('Line 3, shown: 1700 mV: a probe gives −1000 to 1000 mV')).toBeVisible()
  await expect(rows).toHaveCount(10)
  await file.setInputFiles(csv('sample;shown;°C;note\nWeir;-25,4;19,5;foam\nMill;-31,0;;\n'))
  await expect(rows).toHaveCount(12)
  await expect(rows.nth(10).getByText('−25.4 mV, 19.5 °C, foam')).toBeVisible()

  // It was misread: corrected, the check holds and nothing is marked any more.
  await inSheet(page)
    .getByRole('listitem')
    .filter({ hasText: /^\s*Check in phosphate/ })
    .getByRole('button', { name: 'Correct' })
    .click()
  await page.getByPlaceholder('misread').fill('misread')
  const correction = inSheet(page)
    .getByRole('listitem')
    .filter({ hasText: /^\s*Check in phosphate/ })
  await correction.getByLabel('Potential shown').fill('7.0')
  await page.keyboard.press('Enter')
  await expect(rows.nth(4).getByText('it holds')).toBeVisible()
  await expect(rows.nth(0).getByText(/^The check in/)).toBeHidden()
  await rows
    .nth(0)
    .getByRole('button', { name: /^pH: 7\.3\d/ })
    .click()
  await expect(page.getByRole('region', { name: 'Working: Inlet' }).getByText(/^7\.3\d\d ± 0\.0\d\d/)).toBeVisible()
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'End this log' }).click()
  await expect(page.getByRole('heading', { name: 'Read', exact: true })).toBeVisible()
  const [table] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Results as CSV' }).click(),
  ])
  const text = await readFile(await table.path(), 'utf8')
  const lines = text.trim().split('\r\n')
  expect(lines).toHaveLength(13)
  expect(lines[0]).toBe('time,sample,pH,U (k = 2),°C,shown,found by,note,doubts')
  expect(lines[1]).toMatch(/^.*Z,Inlet,7\.3\d\d,0\.0\d\d,21\.4,'?−20\.0 mV,Heron,,$/)
  expect(lines[6]).toMatch(/,Inlet,7\.75,0\.29,,pH 7\.5 to 8,indicator paper,blue-green,$/)
  await page.goto('/logbook')
  await expect(page.getByRole('row').filter({ hasText: 'Inlet reads −20.0 mV, 21.4 °C' })).toHaveCount(1)
})

test('a meter that shows pH alone: added, calibrated by its display, and its probe cared for', async ({ page }) => {
  await page.goto('/setup/meters')
  await field(page, 'Name').fill('Grebe')
  await field(page, 'Probe').fill('probe 7')
  await choose(page, 'It shows', 'pH only')
  await page.getByRole('button', { name: 'Add it' }).click() // with the last digit of a meter for mV
  await expect(page.getByRole('cell', { name: '0.1 pH' })).toBeVisible()
  await page.getByRole('button', { name: 'Change Grebe' }).click()
  await page.getByLabel('Probe that hangs on it').fill('probe 8')
  await page.getByRole('button', { name: 'Keep this' }).click()
  await expect(page.getByRole('cell', { name: 'probe 8', exact: true })).toBeVisible()
  await begin(page, 'Grebe')
  await page.keyboard.press('1')
  for (const shown of ['7.0', '4.0', '9.2']) {
    await dip(page)
    await expect(field(page, 'pH shown')).toBeFocused()
    await page.keyboard.type(shown)
    if (shown === '7.0') await field(page, 'After adjusting, if it was').fill('6.9')
    await page.keyboard.press('Enter')
  }
  await expect(page.getByRole('button', { name: /^off before it was adjusted: 0\.12/ })).toBeVisible()
  await expect(page.getByText(/^99\.\d % of the theoretical slope: good\./)).toBeVisible()
  await page.keyboard.press('1')
  await expect(page.getByRole('heading', { name: 'Taken into use' })).toBeVisible()
  await page.goto('/meters')
  await page.getByRole('article', { name: 'Grebe' }).getByRole('button', { name: 'History of the probe' }).click()
  const history = page.getByRole('region', { name: 'History of Grebe' })
  await expect(history.getByText('Nothing yet: cleaned, refilled, reconditioned.')).toBeVisible()
  await history.getByLabel('What was done now').fill('Soaked overnight in KCl')
  await page.keyboard.press('Enter')
  await expect(history.getByRole('listitem')).toHaveText(/Soaked overnight in KCl probe 8, RA/)
  await page.reload()
  await page.getByRole('article', { name: 'Grebe' }).getByRole('button', { name: 'History of the probe' }).click()
  await expect(history.getByText('Soaked overnight in KCl')).toBeVisible()
})
