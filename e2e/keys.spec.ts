import { expect, field, inSheet, signIn, test } from './bench'

type Page = import('@playwright/test').Page

// How many keys a piece of work takes from Today to its end, as a practised hand goes: each figure, each
// Enter and each Tab is one. A number here may only become smaller.
test.use({ allow: [/422/] }) // of a figure that is typed by half
test.beforeEach(async ({ page }) => {
  await signIn(page)
  await page.goto('/')
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible()
})

/** Two hands on a keyboard, and nothing else. */
class Hands {
  keys = 0
  constructor(readonly page: Page) {}
  async press(...keys: string[]) {
    for (const key of keys) {
      this.keys += 1
      await this.page.keyboard.press(key)
    }
  }
  async type(text: string) {
    this.keys += text.length
    await this.page.keyboard.type(text)
  }
  /** Types into the field that waits, and goes on. */
  async record(label: string, text: string) {
    await expect(field(this.page, label)).toBeFocused()
    await this.type(text)
    await this.press('Enter')
  }
  /** Chooses by its digit what waits at hand. */
  async choose(button: string, digit = '1') {
    await expect(this.page.getByRole('button', { name: button })).toBeFocused()
    await this.press(digit)
  }
  /** How many keys it took, and how many it may. */
  spent(most: number) {
    test.info().annotations.push({ type: 'keys', description: String(this.keys) })
    expect(this.keys).toBeLessThanOrEqual(most)
  }
  /** Leaves a field as it is proposed. */
  async keep(label: string) {
    await expect(field(this.page, label)).toBeFocused()
    await this.press('Enter')
  }
  /** Tabs to a field or a button. */
  async reach(label: string) {
    const there = this.page.getByLabel(label, { exact: true }).or(this.page.getByRole('button', { name: label }))
    for (let n = 0; n < 25; n++) {
      if (await there.first().evaluate((el) => el === document.activeElement)) return
      await this.press('Tab')
    }
    await expect(there.first()).toBeFocused()
  }
}

test('a standard: 45 keys', async ({ page }) => {
  const hands = new Hands(page)
  await hands.press('s')
  await expect(page.getByRole('combobox', { name: 'What' })).toBeFocused()
  await hands.type('edta')
  await expect(page.getByRole('option').first()).toBeVisible()
  await hands.press('Enter')
  await expect(page.getByText('372.2')).toBeVisible()
  await hands.reach('How strong')
  await hands.type('.01')
  await hands.press('Enter')
  await expect(field(page, 'How much')).toBeFocused()
  await hands.press('Enter')
  await hands.choose('Take it to the bench', 'Enter')
  await hands.record('Shown after taring', '0')
  await hands.record('Net mass shown', '.9306')
  await hands.choose('Keep this mass')
  await hands.keep('How many times')
  await hands.choose('All dissolved, clear')
  await hands.record('Temperature', '20.4')
  await hands.choose('Meniscus on the line')
  await hands.keep('How many times')
  await hands.keep('Keeps until')
  await expect(page.getByText('Finished: the bottle is on the shelf')).toBeVisible()
  await expect(page.getByRole('link', { name: 'shelf', exact: true })).toBeFocused()
  hands.spent(45)
})

test('a chain of three tubes: 60 keys', async ({ page }) => {
  const hands = new Hands(page)
  await hands.press('d')
  await expect(page.getByRole('list', { name: 'Ladder' }).getByRole('button', { name: /^Tube 3/ })).toBeVisible()
  await hands.reach('Take it to the bench')
  await hands.press('Enter')
  await hands.record('Temperature', '20.5')
  for (const n of [1, 2, 3]) {
    await expect(page.getByRole('heading', { name: /^Rinse the/ })).toBeVisible()
    await hands.keep('How many times')
    await hands.choose('Delivered, tip touched off')
    await expect(page.getByRole('heading', { name: new RegExp(`^Solvent to the mark.*tube ${n}$`) })).toBeVisible()
    await hands.press('1')
    await expect(page.getByRole('heading', { name: `Stopper tube ${n}` })).toBeVisible()
    await hands.keep('How many times')
  }
  await hands.keep('Keeps until')
  await expect(page.getByText('Finished: the rack is on the shelf')).toBeVisible()
  hands.spent(60)
})

test('a calibration in two buffers, connected: 20 keys', async ({ page, lab }) => {
  lab.plug(true)
  const id = lab.database.sql("SELECT id FROM meters WHERE name = 'Heron'")
  const probe = (data: object) => page.request.post(`/api/v1/meters/${id}/standin`, { data })
  await probe({ time: 0.3 })
  const hands = new Hands(page)
  await hands.press('p')
  await expect(page.getByRole('cell', { name: '9.21' })).toBeVisible()
  await hands.reach('Buffer 3')
  await hands.press('Delete')
  await expect(page.getByRole('cell', { name: '9.21' })).toBeHidden()
  await hands.reach('Take it to the bench')
  await hands.press('Enter')
  await hands.choose('It stood wet')
  for (const buffer of ['phosphate', 'phthalate']) {
    await probe({ do: 'RINSE' })
    await probe({ into: `${buffer} 21.4` })
    await hands.choose('The probe is in')
    const meter = page.getByRole('group', { name: 'pH meter Heron' })
    await expect(meter.getByText('has settled')).toBeVisible({ timeout: 60_000 })
    await expect(meter.getByRole('button', { name: 'Take it' })).toBeFocused()
    await hands.press('Enter')
  }
  await expect(page.getByText(/^(9\d|10[0-2])\.\d % of the theoretical slope: good\./)).toBeVisible()
  await hands.press('1')
  await expect(page.getByRole('heading', { name: 'Taken into use' })).toBeVisible()
  hands.spent(20)
})

/** The potential that the calibrated probe gives at a pH. */
const potential = (pH: number) => (4.7 + (7 - pH) * 57.8).toFixed(1)

test('a buffer of two solids: 40 keys', async ({ page, lab }) => {
  lab.plug(false)
  const hands = new Hands(page)
  await hands.press('u')
  await expect(page.getByRole('button', { name: 'Take it to the bench' })).toBeEnabled()
  await expect(field(page, 'pH wanted')).toBeFocused()
  await hands.press('Enter')
  await hands.choose('Take it to the bench', 'Enter')
  await hands.choose('Water added')
  await hands.record('Net mass shown', '.7244')
  await expect(inSheet(page).getByText('Weighed 0.7244 g')).toBeVisible()
  await hands.record('Net mass shown', '1.12')
  await hands.choose('All dissolved, clear')
  await hands.record('Potential shown', potential(6.98))
  await hands.choose('On to the mark')
  await hands.choose('Meniscus on the line')
  await hands.keep('How many times')
  await hands.record('Potential shown', potential(7))
  await hands.keep('Keeps until')
  await expect(page.getByRole('heading', { name: /Finished: the bottle is on the/ })).toBeVisible()
  hands.spent(40)
})

test('a capacity in drops, two beakers, three portions each: 80 keys', async ({ page, lab }) => {
  lab.plug(false)
  const hands = new Hands(page)
  await hands.press('c')
  await expect(page.getByRole('combobox', { name: 'Buffer' })).toBeFocused()
  await expect(page.getByText(/One portion moves the pH by about/)).toBeVisible()
  await hands.reach('Added by')
  await hands.press('Enter', 'ArrowDown', 'Enter')
  await hands.reach('Drops at a time')
  await hands.type('50')
  await hands.reach('Water beside it')
  await hands.press('Enter', 'ArrowDown', 'Enter')
  await expect(page.getByText('Water with acid')).toBeHidden()
  await hands.reach('Set up the beakers')
  await hands.press('Enter')
  await hands.choose('1 Done')
  for (const [acid, start] of [
    [-1, 7.03],
    [1, 7.03],
  ] as const) {
    await hands.record('Potential shown', potential(start))
    for (const n of [1, 2, 3]) {
      await expect(field(page, 'Drops')).toBeFocused()
      await hands.press('Enter')
      await hands.record('Potential shown', potential(start + 0.15 * n * acid))
    }
    await expect(page.getByRole('button', { name: 'Done with this beaker' })).toBeVisible()
    await hands.press('Control+Enter')
  }
  await expect(page.getByRole('heading', { name: 'Tested' })).toBeVisible()
  hands.spent(80)
})

test('three trials by pipette: 60 keys', async ({ page }) => {
  const hands = new Hands(page)
  await hands.press('i')
  await expect(page.getByText(/About 2[45]\.\d mL a trial/)).toBeVisible()
  await hands.reach('Volume, mL each')
  await hands.press('Enter')
  await hands.choose('Rinsed three times')
  for (const [n, from, to] of [
    [1, '0', '25.3'],
    [2, '0', '24.95'],
    [3, '0', '25'],
  ] as const) {
    await expect(inSheet(page).getByText(new RegExp(`Trial ${n}.*into the flask`))).toBeVisible()
    await hands.choose('1 Done')
    await hands.record('Burette', from)
    await expect(inSheet(page).getByText(/run it in, and read when you stop/)).toBeVisible()
    await hands.record('Burette', to)
    await hands.choose('That was the end point')
  }
  await expect(inSheet(page).getByText(/Trials 2 and 3 agree/)).toBeVisible()
  await hands.press('Control+Enter')
  await expect(page.getByRole('heading', { name: 'Titrated' })).toBeVisible()
  hands.spent(60)
})

test('a log of three samples: 50 keys', async ({ page, lab }) => {
  lab.plug(false)
  const hands = new Hands(page)
  await hands.press('r')
  await hands.record('Samples, in a few words', 'Pond')
  for (const [name, shown] of [
    ['Inlet', '-13.4'],
    ['Reeds', '19.3'],
    ['Deep', '32'],
  ] as const) {
    await hands.record('Sample', name)
    await hands.record('Potential shown', shown)
    await expect(page.getByRole('list', { name: 'Readings' }).getByText(name)).toBeVisible()
  }
  await hands.press('Control+Enter')
  await expect(page.getByRole('heading', { name: 'Read', exact: true })).toBeVisible()
  hands.spent(50)
})

test('a tip by three counts on a balance: 50 keys', async ({ page }) => {
  const hands = new Hands(page)
  await hands.press('o')
  await hands.record('Tip', 'A')
  for (const [drops, grams] of [
    ['30', '1.4982'],
    ['30', '1.5049'],
    ['30', '1.5011'],
  ] as const) {
    await hands.record('Drops', drops)
    await hands.record('Net mass shown', grams)
  }
  await expect(page.getByRole('table', { name: 'Counts' }).getByRole('row')).toHaveCount(4)
  await hands.press('Control+Enter')
  await expect(page.getByRole('heading', { name: 'The tip is calibrated' })).toBeVisible()
  hands.spent(50)
})

test('a curve of twelve readings: 150 keys', async ({ page, lab }) => {
  lab.plug(false)
  const hands = new Hands(page)
  await hands.press('v')
  await expect(page.getByRole('img', { name: 'pH against what was added' })).toBeVisible()
  await hands.reach('Take it to the bench')
  await hands.press('Enter')
  await hands.choose('1 Done')
  await hands.record('Burette', '0')
  for (const [i, [mL, pH]] of (
    [
      ['0', 4.01],
      ['5', 4.73],
      ['10', 5.12],
      ['15', 5.47],
      ['20', 5.91],
      ['22', 6.17],
      ['24', 6.68],
      ['24.5', 6.99],
      ['25.2', 10.4],
      ['26', 11.1],
      ['28', 11.6],
      ['30', 11.8],
    ] as const
  ).entries()) {
    if (i > 0) await hands.record('Burette', mL)
    await hands.record('Potential shown', potential(pH))
  }
  await expect(field(page, 'Burette')).toBeFocused()
  await hands.press('Control+Enter')
  await expect(page.getByRole('heading', { name: 'The curve is complete' })).toBeVisible()
  hands.spent(150)
})

test('a run is given up by keyboard: the reason stays text, and the next run is one key away', async ({ page }) => {
  const hands = new Hands(page)
  await hands.press('d')
  await expect(page.getByRole('list', { name: 'Ladder' }).getByRole('button', { name: /^Tube 3/ })).toBeVisible()
  await hands.reach('Take it to the bench')
  await hands.press('Enter')
  await expect(field(page, 'Temperature')).toBeFocused()
  await hands.reach('Give this run up')
  await hands.press('Enter')
  await expect(page.getByLabel('Why it is given up')).toBeFocused()
  await hands.press('Escape')
  await expect(page.getByRole('button', { name: 'Give this run up' })).toBeFocused()
  await hands.press('Enter')
  await hands.record('Why it is given up', 'shelf label spilt')
  await expect(page.getByRole('heading', { name: 'This run is void: given up: shelf label spilt' })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Begin again from the plan' })).toBeFocused()
  await hands.press('Enter')
  await expect(field(page, 'Temperature')).toBeFocused()
})
