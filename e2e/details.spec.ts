import type { Locator, Page } from '@playwright/test'
import { choose, Database, expect, field, firstInstructor, Server, signIn, test, unfold, watch } from './bench'

// What a question keeps folded changes its answer, and every page leads on from where it ends.

test.use({ allow: [/404|409|422/] }) // the browser notes every refused request

const button = (page: Page, name: string | RegExp) =>
  page.getByRole('button', { name, exact: typeof name === 'string' })
const recipe = (page: Page) => page.getByRole('complementary', { name: 'Recipe' })

test.describe('questions', () => {
  test.beforeEach(({ page }) => signIn(page))

  test('a standard: not dried, for teaching, in a narrow band, by mass, and with another substance', async ({
    page,
  }) => {
    await page.goto('/standards')
    await expect(recipe(page).getByText('5.1056')).toBeVisible()
    await button(page, /^5\.1056/).click()
    await expect(page.getByRole('region', { name: 'Working: mass to weigh' })).toContainText('204.22')
    await page.keyboard.press('Escape')
    await unfold(page, 'The bottle at hand')
    await field(page, 'Not dried: loss on drying, %').fill('1')
    await expect(recipe(page).getByText('5.1571')).toBeVisible() // 5.1056 g / 0.99
    await field(page, 'Not dried: loss on drying, %').fill('')
    await expect(recipe(page).getByText('5.1056')).toBeVisible()
    await unfold(page, 'Made up')
    await choose(page, 'Flask', 'class B, for teaching')
    await expect(recipe(page)).toContainText('class B')
    await choose(page, 'Flask', 'class A')
    await expect(recipe(page)).not.toContainText('class B')
    await choose(page, 'Close enough when the mass is', /^within ±5 %/)
    await expect(recipe(page)).toContainText('4.8503 to 5.3608 g is close enough') // a twentieth less and more
    await choose(page, 'How it is made up', 'by weighing the solution')
    await field(page, 'Density of the solution, g/mL').fill('1.01')
    await field(page, 'known within ±, g/mL').fill('0.002')
    await expect(recipe(page).getByText('5.1056')).toBeVisible()
    await button(page, 'Another substance in the same flask').click()
    await expect(page.getByRole('combobox', { name: 'Substance 2', exact: true })).toBeVisible()
    await button(page, 'Leave substance 2 out').click()
    await expect(page.getByRole('combobox', { name: 'Substance 2', exact: true })).toBeHidden()
  })

  test('an acid from its bottle: by volume, from the strength that the bottle states', async ({ page }) => {
    await page.goto('/standards')
    await choose(page, 'What', /^Hydrochloric acid/)
    await field(page, 'How strong').fill('0.1 mol/L')
    await field(page, 'How much').fill('250 mL')
    await unfold(page, 'The bottle at hand')
    await choose(page, 'Taken by', 'graduated pipette')
    await field(page, 'or mol/L, if the bottle says so').fill('12')
    await field(page, 'known within ±, mol/L').fill('0.1')
    await expect(
      recipe(page)
        .getByText(/^2\.08/)
        .first(),
    ).toBeVisible() // 0.1 × 250 / 12 = 2.083 mL
    await field(page, 'or mol/L, if the bottle says so').fill('10')
    await expect(
      recipe(page)
        .getByText(/^2\.50/)
        .first(),
    ).toBeVisible()
  })

  test('one dilution: steps, liquid and stock are bounded, the stock known or weighed', async ({ page }) => {
    await page.goto('/dilutions')
    await button(page, 'One concentration').click()
    const ways = page.getByRole('radio', { name: /^Way / })
    await choose(page, 'From', 'a stock of this strength')
    await field(page, 'Strength of the stock').fill('1 mol/L')
    const to = page.getByLabel(/^To \(1 in 100, 1 \+ 99, or a figure in/)
    await to.fill('1 in 1000')
    await field(page, 'How much of it, mL').fill('100')
    await expect(ways.first()).toBeVisible()
    await unfold(page, 'Details')
    await page.getByLabel(/^Stock known within ±, .*, k = 2$/).fill('0.002')
    const none = page.getByText('no route here comes within 5 % of 1 in 1000')
    await choose(page, 'In at most', '1 step')
    await expect(page.locator('summary', { hasText: 'at most 1 step,' })).toBeVisible()
    await expect(none).toBeHidden()
    await field(page, 'Liquid in all at most, mL').fill('5')
    await expect(none).toBeVisible()
    await field(page, 'Liquid in all at most, mL').fill('')
    await choose(page, 'In at most', '3 steps')
    await expect(none).toBeHidden()
    await field(page, 'Stock at most, mL').fill('0.0001')
    await expect(none).toBeVisible()
    await field(page, 'Stock at most, mL').fill('')
    await expect(none).toBeHidden()
    await field(page, 'To rinse the pipette, mL').fill('5')
    await field(page, 'Kept of each, mL').fill('20')
    await choose(page, 'Stock is', /^weighed/)
    await field(page, 'Density at 20 °C, g/mL').fill('1.02')
    await field(page, 'known within ±, g/mL').fill('0.001')
    const ladder = page.getByRole('list', { name: 'Ladder' })
    await expect(ladder).toContainText(/0\.10[12]\d g.*to 100 mL/s) // a thousandth of 100 mL, 1.02 g/mL
  })

  test('a chain and a series: one stage less, another factor, made in flasks, undiluted from a reading', async ({
    page,
  }) => {
    await page.goto('/dilutions')
    const ladder = page.getByRole('list', { name: 'Ladder' })
    await expect(ladder.getByRole('button', { name: /^Tube 3/ })).toBeVisible()
    await button(page, 'One less').click()
    await expect(ladder.getByRole('button', { name: /^Tube 3/ })).toBeHidden()
    await field(page, 'Factor of stage 2').fill('1 in 25')
    await page.keyboard.press('Enter')
    await expect(ladder.getByText(/in 250 in all/)).toBeVisible()
    await ladder.getByRole('button', { name: /^Tube 2/ }).click()
    await page.getByLabel(/^Measured on tube 2/).fill('0.4')
    await button(page, 'Undilute').click()
    await expect(page.getByRole('status').filter({ hasText: /100/ })).toBeVisible() // 0.4 × 250
    await page.locator('summary', { hasText: 'One step, one unknown: leave out what is to be found' }).click()
    await button(page, 'A series side by side').click()
    await unfold(page, 'Details')
    await choose(page, 'Made in', 'flasks, to the mark')
    await expect(page.getByRole('combobox', { name: 'Stock is' })).toBeVisible()
    await choose(page, 'Made in', 'tubes, by two burettes')
    await expect(page.getByRole('combobox', { name: 'Stock is' })).toBeHidden()
  })

  test('a buffer: made cold, with salt, by another base, by another way', async ({ page }) => {
    await page.goto('/buffers')
    await field(page, 'pH wanted').fill('7.00')
    await field(page, 'Concentration').fill('0.05 mol/L')
    await field(page, 'How much').fill('250 mL')
    await button(page, 'Phosphate').click()
    await expect(recipe(page)).toContainText('0.7244 g')
    await unfold(page, 'Details')
    await field(page, 'Ionic strength by salt, mol/L').fill('0.01')
    await expect(page.getByText('the buffer alone has an ionic strength of 0.107 mol/L')).toBeVisible()
    await field(page, 'Ionic strength by salt, mol/L').fill('0.2')
    await expect(recipe(page)).toContainText(/[Ss]odium chloride/)
    await expect(recipe(page)).not.toContainText('0.7244 g')
    await field(page, 'Ionic strength by salt, mol/L').fill('')
    await expect(recipe(page)).toContainText('0.7244 g')
    await field(page, 'Made at, °C').fill('hot')
    await expect(page.getByText('“hot”: this is not a number')).toBeVisible()
    await field(page, 'Made at, °C').fill('15')
    await expect(page.locator('summary', { hasText: 'made at 15 °C' })).toBeVisible()
    await choose(page, 'or base', 'sodium hydroxide')
    await field(page, 'Sodium hydroxide, mol/L').fill('0.5')
    await button(page, /^All|more$/).click()
    await button(page, 'The first ones only').click()
    await choose(page, 'Another way', /./)
    await expect(recipe(page)).not.toContainText('0.7244 g')
  })

  test('capacity, curve, standard additions: their fields, and what they say of nonsense', async ({ page }) => {
    await page.goto('/capacity')
    await choose(page, 'Buffer', /Phosphate buffer/)
    const problem = (label: string): Locator =>
      field(page, label).locator('xpath=ancestor::div[label][1]').locator('.problem')
    await field(page, 'Water to cover the probe, mL').fill('much')
    await button(page, /^Set up the beakers/).click()
    await expect(problem('Water to cover the probe, mL')).not.toBeEmpty()
    await field(page, 'Water to cover the probe, mL').fill('20')
    await expect(problem('Water to cover the probe, mL')).toBeEmpty()
    await field(page, 'Portion, mL').fill('40')
    await expect(button(page, /^Take .* instead$/)).toBeVisible()
    await button(page, /^Take .* instead$/).click()
    await expect(field(page, 'Portion, mL')).not.toHaveValue('40')
    await choose(page, 'Base', 'sodium hydroxide')
    await expect(field(page, 'Sodium hydroxide, mol/L')).toBeVisible()

    await page.goto('/curves')
    await expect(page.getByRole('combobox', { name: 'Titrant' })).toBeVisible()
    await field(page, 'Water to cover the probe, mL').fill('much')
    await button(page, /^Take it to the bench/).click()
    await expect(problem('Water to cover the probe, mL')).not.toBeEmpty()
    await choose(page, 'Carbonate in the base', 'find it too')

    await page.goto('/absorbance')
    await choose(page, 'Read from', /add/i)
    await field(page, 'Sample in each portion, mL').fill('10')
    await field(page, 'Made up to, mL').fill('50')
    await field(page, 'Standard added to each, mL').fill('0 1 2 x')
    await button(page, /^Begin with the blank/).click()
    await expect(problem('Standard added to each, mL')).not.toBeEmpty()
    await choose(page, 'What is added', 'not on the shelf')
    await choose(page, 'Each tube is read', 'twice')
  })

  test('pH meters: another temperature, a range of samples, the history of a probe', async ({ page }) => {
    await page.goto('/meters')
    await choose(page, 'Meter', 'Heron')
    await expect(page.getByRole('cell', { name: '9.21' })).toBeVisible()
    await page.getByLabel(/^Temperature, °C \(bench: /).fill('25')
    await expect(page.getByRole('cell', { name: '9.18' })).toBeVisible() // borax at 25 °C
    await field(page, 'Samples from pH').fill('5')
    await field(page, 'to pH').fill('6')
    await expect(page.getByText('The buffers bracket the samples.')).toBeVisible()
    await expect(page.getByText(/In samples of pH 5 to 6 a pH would be known/)).toBeVisible()
    const history = button(page, 'History of the probe').first()
    await history.click()
    await button(page, 'Close the history').click()
    await expect(button(page, 'Close the history')).toHaveCount(0)
  })
})

test('the hands of the stand-ins: what is done to them is what they tell', async ({ page, lab }) => {
  await signIn(page)
  lab.plug(true)
  const press = (name: string) => button(page, name).click()
  const told = (text: string | RegExp) => expect(page.locator('.standin').getByText(text)).toBeVisible()
  await page.goto('/meters')
  await choose(page, 'Meter', 'Heron')
  await expect(page.getByRole('cell', { name: '9.21' })).toBeVisible()
  await button(page, /^Take it to the bench/).click()
  await button(page, /^(\d )?It stood wet/).click()
  await button(page, /^(\d )?The probe is in/).click()
  await expect(page.getByText(/watched \d+ of 10 s/)).toBeVisible()
  await page.getByText('Stand-in probe, by hand').click()
  await field(page, 'A solution of pH').fill('5.5')
  await field(page, 'at °C').fill('19')
  await press('Dip it in')
  await told(/In pH 5\.5 at 19 °C/)
  await press('Let the bulb dry out')
  await told(/bulb dry/)
  await press('Soak the bulb')
  await told(/bulb wet/)
  await press('Let it drift')
  await told(/, drifting/)
  await press('No drift')
  await expect(page.locator('.standin').getByText(/, drifting/)).toBeHidden()

  await page.goto('/absorbance')
  await choose(page, 'Read from', 'standards that are not on record')
  await field(page, 'What is measured').fill('Permanganate')
  await field(page, 'Wavelength, nm').fill('525')
  await field(page, 'Unit').fill('mmol/L')
  await field(page, 'Concentrations').fill('0.1 0.2 0.3')
  await button(page, /^Begin with the blank/).click()
  await page.getByText('Stand-in photometer, by hand').click()
  await choose(page, 'What colours it', 'Permanganate')
  await field(page, 'Or so strong, mol/L').fill('0.0002')
  await press('Fill the cell')
  await told(/In the cell: Permanganate, 0\.0002 mol\/L/)
  for (const [does, is, back] of [
    ['Turn the cell round', /, turned round/, 'Turn it back'],
    ['A fingerprint', /, a fingerprint on it/, 'Wipe it'],
    ['Let the lamp drift', /, lamp drifting/, 'Lamp steady'],
  ] as const) {
    await press(does)
    await told(is)
    await press(back)
    await expect(page.locator('.standin').getByText(is)).toBeHidden()
  }
  await press('The blank in')
  await told(/In the cell: water/)

  lab.database.change(`UPDATE balances SET address = '${lab.standin}' WHERE name = 'Fern'`)
  await page.goto('/standards')
  await expect(page.getByText('5.1056')).toBeVisible()
  await button(page, 'Take it to the bench').click()
  await page.getByText('Stand-in balance, by hand').click()
  await press('Open the door')
  await told(/door open/)
  await press('Close the door')
  await told(/door closed/)
  await press('Let it drift')
  await told(/, drifting/)
  await press('No drift')
  await expect(page.locator('.standin').getByText(/, drifting/)).toBeHidden()
  lab.database.change("UPDATE balances SET address = '' WHERE name = 'Fern'")
  lab.plug(false)
})

test('where a run of each kind has ended, its page leads on', async ({ page, lab }) => {
  await signIn(page)
  for (const [kind, name, to] of [
    ['titration', 'Titrate another one', /\/titrations/],
    ['capacity', 'Test another one', /\/capacity/],
    ['curve', 'Take another one', /\/curves/],
    ['droptip', 'calibrate another one', /\/drops/],
    ['droptip', 'Titrate with it', /\/titrations/],
    ['readings', 'Begin another log', /\/readings/],
    ['mixture', 'Read more samples', /\/mixtures/],
    ['absorbance', 'Read more unknowns from this line', /\/absorbance/],
  ] as const) {
    const id = lab.database.sql(
      `SELECT r.id FROM runs r JOIN plans p ON p.id = r.plan_id WHERE p.kind = '${kind}' AND r.status = 'finished' LIMIT 1`,
    )
    expect(id, kind).not.toBe('')
    await page.goto(`/runs/${id}`)
    await page.getByRole('link', { name, exact: true }).click()
    await expect(page).toHaveURL(to)
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
  }
})

test('in a lab where nothing stands yet, every page says what to do first, and leads there', async ({ browser }) => {
  const database = new Database()
  const server = await Server.start('serve', database)
  const page = await (await browser.newContext({ baseURL: server.url })).newPage()
  const wrong = watch(page, server.url)
  await firstInstructor(page, server)
  await expect(page.getByText('Nothing is in progress.')).toBeVisible()
  for (const [from, name, to] of [
    ['/shelf', 'Make the first one', '/standards'],
    ['/capacity', 'Make a buffer', '/buffers'],
    ['/titrations', 'Make a solution', '/standards'],
    ['/absorbance', 'Make a series with its blank', '/dilutions'],
    ['/mixtures', 'Measure them', '/absorbance'],
    ['/meters', 'Add the first one', '/setup/meters'],
    ['/readings', 'Add the first one', '/setup/meters'],
  ] as const) {
    await page.goto(from)
    await page.getByRole('link', { name, exact: true }).click()
    await expect(page).toHaveURL(`${server.url}${to}`)
  }
  expect(wrong).toEqual([])
  await page.context().close()
  await server.stop()
  database.drop()
})
