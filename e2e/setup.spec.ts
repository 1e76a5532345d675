import { writeFileSync } from 'node:fs'
import {
  begin,
  Database,
  expect,
  field,
  firstInstructor,
  makeUp,
  password,
  Server,
  signIn,
  test,
  watch,
  weigh,
} from './bench'

test('a new lab: the first instructor, a balance, a substance, and a first plan', async ({ browser }) => {
  const database = new Database()
  const server = await Server.start('serve', database)
  const page = await (await browser.newContext({ baseURL: server.url })).newPage()
  const wrong = watch(page, server.url)
  await page.goto('/')
  await page.getByLabel(/Set-up word/).fill('guessed')
  await page.getByLabel('Your name').fill('Rowan Ashdown')
  await page.getByLabel('Initials for the record').fill('RA')
  await page.getByLabel('Sign-in name').fill('ashdown')
  await page.getByLabel('Password').fill('short')
  await page.keyboard.press('Enter')
  await expect(page.getByText('this is not the set-up word')).toBeVisible()
  await page.getByLabel(/Set-up word/).fill(server.word())
  await page.keyboard.press('Enter')
  await expect(page.getByText('a password has at least 10 characters')).toBeVisible()
  await page.getByLabel('Password').fill(password)
  await page.keyboard.press('Enter')
  await expect(page.getByText('Nothing is in progress.')).toBeVisible()

  await page.goto('/shelf')
  await expect(page.getByText('Bottles stand here once')).toBeVisible()
  await page.goto('/logbook')
  await expect(page.getByText('Everything that is recorded')).toBeVisible()
  await page.goto('/standards')
  await expect(page.getByText('5.1056')).toBeVisible() // a recipe without a balance of one's own
  await expect(page.getByText('Worked out for a usual analytical balance, 220 g by 0.0001 g')).toBeVisible()
  await page.getByRole('button', { name: 'Enter your balance' }).click()
  await field(page, 'Name').fill('Fern')
  await page.getByRole('button', { name: 'Add it' }).click()
  await expect(page.getByRole('cell', { name: 'Fern', exact: true })).toBeVisible()
  await expect(page.getByRole('button', { name: /Balance.*Fern 0.1 mg/ })).toBeVisible()

  await page.goto('/setup/substances')
  await page.getByRole('button', { name: 'Add a substance' }).click()
  await page.getByLabel('Name').fill('Potassium chromate <b>')
  await page.getByLabel('Formula').fill('K2CrO')
  await page.getByLabel('Formula').fill('K2Cro4')
  await expect(page.getByText('at character 5: no element o; oxygen is O, with a capital')).toBeVisible()
  await page.getByLabel('Formula').fill('K2CrO4')
  await expect(page.getByText('194.18')).toBeVisible()
  await page.getByLabel('Hazard statements').fill('H317 H999')
  await page.getByLabel('Source of these values').fill('our data sheet')
  await page.getByRole('button', { name: 'Add it' }).click()
  await expect(page.getByText('no hazard statement H999')).toBeVisible()
  await page.getByLabel('Hazard statements').fill('H317')
  await page.getByRole('button', { name: 'Add it' }).click()
  await expect(page.getByRole('row', { name: /Potassium chromate <b>/ })).toBeVisible()
  await begin(page)
  expect(wrong.filter((w) => !/422/.test(w))).toEqual([])
  await page.context().close()
  await server.stop()
  database.drop()
})

test('the first five minutes: from an empty lab to the first label', async ({ browser }) => {
  const database = new Database()
  const server = await Server.start('serve', database)
  const page = await (await browser.newContext({ baseURL: server.url })).newPage()
  const wrong = watch(page, server.url)
  await firstInstructor(page, server)
  const first = page.getByRole('region', { name: 'To set up' })
  await expect(first.getByRole('link')).toHaveText([
    'Enter a balance',
    'List the glass',
    'Make accounts for the others',
    'Make a first bottle',
  ])
  await first.getByRole('button', { name: 'Begin with a usual teaching laboratory' }).click()
  await expect(first.getByText('List the glass, done')).toBeVisible()
  await first.getByRole('link', { name: 'Make a first bottle' }).click()
  await choose(page, 'table salt')
  await expect(page.getByRole('complementary', { name: 'Recipe' }).getByText('1.4610')).toBeVisible()
  await page.getByRole('button', { name: 'Take it to the bench' }).click()
  await weigh(page, '1.4610')
  await expect(page.getByText('On the target')).toBeVisible()
  await page.keyboard.press('1')
  await makeUp(page)
  await page.keyboard.press('1')
  await expect(field(page, 'How many times')).toBeFocused()
  await field(page, 'How many times').press('Enter')
  await page.getByLabel('Keeps until').press('Enter')
  const label = page.getByRole('link', { name: 'Print its label' })
  const pdf = await page.request.get((await label.getAttribute('href'))!)
  expect(pdf.headers()['content-type']).toBe('application/pdf')
  expect(wrong).toEqual([])
  await page.context().close()
  await server.stop()
  database.drop()
})

async function choose(page: import('@playwright/test').Page, name: string) {
  await page.getByRole('combobox', { name: 'What', exact: true }).click()
  await page.keyboard.type(name)
  await expect(page.getByRole('option').first()).toContainText(name)
  await page.keyboard.press('Enter')
}

test.describe('with the sample records', () => {
  test.use({ allow: [/422|409/] })

  test('rules: a threshold out of bounds is refused, one inside applies', async ({ page }) => {
    await signIn(page)
    await page.goto('/setup/rules')
    const inversions = page.getByLabel('Mix thoroughly, inversions')
    await inversions.fill('1000')
    await page.getByRole('button', { name: 'Apply', exact: true }).click()
    await expect(page.getByText('Mix thoroughly: between 3 and 100 inversions')).toBeVisible()
    await inversions.fill('10')
    await page.getByRole('button', { name: 'Apply', exact: true }).click()
    await expect(page.getByText('The rules apply to new plans.')).toBeVisible()
    await begin(page)
    await expect(page.getByText('invert 10 times')).toBeVisible()
    await page.goto('/setup/rules')
    await inversions.fill('20')
    await page.getByRole('button', { name: 'Apply', exact: true }).click()
    await expect(page.getByText('The rules apply to new plans.')).toBeVisible()
  })

  test('records go out, come in again as known, and a broken file names its place', async ({ page }, info) => {
    await signIn(page)
    const records = (await (await page.request.get('/api/v1/export')).json()) as {
      runs: { facts: { quantity?: { value: number } }[] }[]
    }
    await page.goto('/setup/records')
    const take = async (name: string, content: string) => {
      const path = info.outputPath(name)
      writeFileSync(path, content)
      await page.getByLabel('File of records or table').setInputFiles(path)
    }
    await take('good.json', JSON.stringify(records))
    await expect(page.getByText(/Nothing new, would be taken in; 0 changed; \d+ here already/)).toBeVisible()
    await take('not.json', 'not json')
    await expect(page.getByText('this cannot be read as records')).toBeVisible()
    const broken = JSON.parse(JSON.stringify(records).replaceAll('-7000-', '-7777-')) as typeof records
    broken.runs[0]!.facts[0]!.quantity!.value = 1e9
    await take('broken.json', JSON.stringify(broken))
    await expect(page.getByText('Nothing was taken in.')).toBeVisible()
    await expect(page.getByText('/runs/0/facts/0/quantity')).toBeVisible()
  })

  test('the bench is changed in its place and feeds the question', async ({ page }) => {
    await signIn(page)
    await page.goto('/standards')
    await page.getByRole('button', { name: /Water/ }).click()
    await page.getByLabel('Temperature of the water, Enter records').fill('26')
    await page.keyboard.press('Enter')
    await expect(page.getByRole('button', { name: /Water.*26\.0 °C/ })).toBeVisible()
    await expect(page.getByText('The water on the bench is at 26.0 °C')).toBeVisible()
    await page.getByRole('button', { name: /Water/ }).click()
    await page.getByLabel('Temperature of the water, Enter records').fill('60')
    await page.keyboard.press('Enter')
    await expect(page.getByText('The water is between 0 and 40 °C')).toBeVisible()
    await page.getByLabel('Temperature of the water, Enter records').fill('21.4')
    await page.keyboard.press('Enter')
    await expect(page.getByRole('button', { name: /Water.*21\.4 °C/ })).toBeVisible()
  })

  test('an assistant works, and reads the setup without changing it', async ({ page }) => {
    await signIn(page, 'thorne')
    await page.goto('/setup/people')
    await expect(page.getByText('Instructors change the setup')).toBeVisible()
    await expect(page.getByRole('button', { name: 'Make it' })).toBeHidden()
    await begin(page)
  })
})

test.describe('tables and glass', () => {
  test.use({ allow: [/422/] }) // the browser notes every refused request

  test('a table with errors is named line by line and not taken in; mended, it is', async ({ page }) => {
    await signIn(page)
    await page.goto('/setup/records')
    const file = page.getByLabel('File of records or table')
    const table = (third: string) =>
      `name;formula;class;density g/mL\nPond salt A;KCl;secondary;1,98\nPond salt B;NaCl;primary;\n${third}\n`
    const give = (text: string) =>
      file.setInputFiles({ name: 'salts.csv', mimeType: 'text/csv', buffer: Buffer.from(text) })
    await give(table('Pond salt C;Nacl;often;heavy'))
    await expect(page.getByText('Nothing was taken in. 1 place is wrong:')).toBeVisible()
    await expect(page.getByText('Line 4, density g/mL')).toBeVisible()
    await give(table('Pond salt C;Nacl;often;2'))
    await expect(page.getByText('2 places are wrong:')).toBeVisible()
    await expect(page.getByText('Line 4, formula')).toBeVisible()
    await give('name;formula;class;colour\n')
    await expect(page.getByText('no column of this name is known')).toBeVisible()
    await give(table('Pond salt C;MgCl2;secondary;2,3'))
    await expect(page.getByText('3 substances new, would be taken in')).toBeVisible()
    await expect(page.getByText('new: Pond salt A (KCl)')).toBeVisible()
    await page.getByRole('button', { name: 'Take it in' }).click()
    await expect(page.getByText('3 substances taken in')).toBeVisible()
    await page.goto('/setup/substances')
    await expect(page.getByRole('row').filter({ hasText: 'Pond salt C' })).toBeVisible()
  })

  test('glass: what is listed is what plans take', async ({ page }) => {
    await signIn(page)
    await page.goto('/setup/glass')
    await page.getByRole('button', { name: 'Add glass' }).click()
    await field(page, 'Volume, mL').fill('220')
    await page.keyboard.press('Enter')
    await expect(page.getByText('ISO 1042 has no volumetric flask of 220 mL')).toBeVisible()
    await field(page, 'Volume, mL').fill('200')
    await field(page, 'Certified volume, mL').fill('200.05')
    await field(page, 'of the certificate ±, mL, k = 2').fill('250')
    await page.keyboard.press('Enter')
    await expect(page.getByText('less than the volume (200 mL)')).toBeVisible()
    await field(page, 'of the certificate ±, mL, k = 2').fill('0.03')
    await field(page, 'Mark on the glass, if any').fill('F 20')
    await page.keyboard.press('Enter')
    await expect(page.getByText('200.05 ± 0.03 mL')).toBeVisible()
    await page.goto('/standards')
    await field(page, 'How much').fill('200')
    const recipe = page.getByRole('complementary', { name: 'Recipe' })
    await expect(recipe.getByText('the one marked F 20: 200.05 mL by its certificate')).toBeVisible()
    await field(page, 'How much').fill('5')
    await expect(recipe.getByText('There is no flask of 5 mL; the recipe is for 10 mL.')).toBeVisible()
    await page.goto('/setup/glass')
    await page.getByRole('button', { name: /^Take 200 mL/ }).click()
    await expect(page.getByText('200.05 ± 0.03 mL')).toBeHidden()
  })
})

test('a day that is typed in another way is named, in the logbook', async ({ page }) => {
  await signIn(page)
  await page.goto('/logbook')
  await expect(page.getByRole('row').nth(1)).toBeVisible()
  const from = page.getByLabel('From', { exact: true })
  await from.fill('2026-1')
  await expect(page.getByText('is no day as it is read here')).toBeHidden()
  for (const typed of ['23/11/2026', '2026-02-31', '23.11.26']) {
    await from.fill(typed)
    await expect(page.getByText(`“${typed}” is no day as it is read here`)).toBeVisible()
  }
  await from.fill('2099-01-01')
  await expect(page.getByText('is no day as it is read here')).toBeHidden()
  await expect(page.getByText('Nothing on record fits this search.')).toBeVisible()
})
