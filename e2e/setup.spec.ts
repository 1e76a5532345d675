import { writeFileSync } from 'node:fs'
import { begin, Database, expect, field, password, Server, signIn, test, watch } from './bench'

test('a new lab: the first instructor, a balance, a substance, and a first plan', async ({ browser }) => {
  const database = new Database()
  const server = await Server.start('serve', database)
  const page = await (await browser.newContext({ baseURL: server.url })).newPage()
  const wrong = watch(page, server.url)
  await page.goto('/')
  await page.getByLabel('Your name').fill('Rowan Ashdown')
  await page.getByLabel('Initials for the record').fill('RA')
  await page.getByLabel('Sign-in name').fill('ashdown')
  await page.getByLabel('Password').fill('short')
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
  await expect(page.getByText('There is no balance on the bench.')).toBeVisible()

  await page.goto('/setup/balances')
  await field(page, 'Name').fill('Fern')
  await page.getByRole('button', { name: 'Add it' }).click()
  await expect(page.getByRole('cell', { name: 'Fern' })).toBeVisible()
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
  expect(wrong.filter((w) => !/401|422/.test(w))).toEqual([])
  await page.context().close()
  await server.stop()
  database.drop()
})

test.describe('with the sample records', () => {
  test.use({ allow: [/422|409/] })

  test('rules: a threshold out of bounds is refused, one inside is in force', async ({ page }) => {
    await signIn(page)
    await page.goto('/setup/rules')
    const inversions = page.getByLabel('Mix thoroughly, inversions')
    await inversions.fill('1000')
    await page.getByRole('button', { name: 'Put them in force' }).click()
    await expect(page.getByText('Mix thoroughly: between 3 and 100 inversions')).toBeVisible()
    await inversions.fill('10')
    await page.getByRole('button', { name: 'Put them in force' }).click()
    await expect(page.getByText('The rules are in force for new plans.')).toBeVisible()
    await begin(page)
    await expect(page.getByText('invert 10 times')).toBeVisible()
    await page.goto('/setup/rules')
    await inversions.fill('20')
    await page.getByRole('button', { name: 'Put them in force' }).click()
    await expect(page.getByText('The rules are in force for new plans.')).toBeVisible()
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
      await page.getByLabel('File of records').setInputFiles(path)
    }
    await take('good.json', JSON.stringify(records))
    await expect(page.getByText(/^0 runs with 0 facts.* were here already/)).toBeVisible()
    await take('not.json', 'not json')
    await expect(page.getByText('not.json is not a JSON file.')).toBeVisible()
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
