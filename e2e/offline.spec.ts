import { createServer, request } from 'node:http'
import { Server, another, begin, expect, field, inSheet, record, signIn, test, withBottle } from './bench'

type Page = import('@playwright/test').Page

// The network goes in the middle of a run whose page is open: it goes on by the same rules, and goes on
// record when the network is back.
test.use({ allow: [/409|422|ERR_|Failed to load|Failed to fetch/] })
test.beforeEach(async ({ page }) => signIn(page))

/** What a run needs to be carried on is on the device. */
const carries = (page: Page) => expect(page.locator('[data-carries]')).toBeVisible()

/** Fetches the run as it is on record. */
async function onRecord(page: Page) {
  const id = new URL(page.url()).pathname.split('/').at(-1)
  const answer = await page.request.get(`/api/v1/runs/${id}`)
  expect(answer.ok()).toBe(true)
  return (await answer.json()) as {
    facts: { fact: { kind: string; at: string }; sentence: string }[]
    outcome: { status: string; figures: { id: string; text: string }[] }
  }
}

const ahead = (page: Page) => page.getByText('The sheet goes on by the same rules, worked out on this device')

test('a standard is finished without a network, and all of it goes on record in order', async ({ page, context }) => {
  await begin(page)
  await carries(page)
  await record(page, 'Shown after taring', '0')
  await expect(field(page, 'Net mass shown')).toBeFocused()
  await context.setOffline(true)
  await record(page, 'Net mass shown', '5.0918')
  await expect(page.getByText('0.27 % under')).toBeVisible()
  await expect(ahead(page)).toBeVisible()
  await page.keyboard.press('1') // keep it
  await expect(field(page, 'How many times')).toBeFocused()
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'All dissolved, clear' }).press('1')
  // Nonsense is refused here as it would be there, and goes nowhere.
  await record(page, 'Temperature', '99')
  await expect(page.getByText('glass is used between 0 and 40 °C here')).toBeVisible()
  await field(page, 'Temperature').fill('20.4')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Meniscus on the line' }).press('1')
  await expect(field(page, 'How many times')).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('Keeps until')).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: 'All is stated' })).toBeVisible()
  await expect(page.getByText('8 readings are kept here')).toBeVisible()
  const found = page.getByRole('complementary').getByRole('button', { name: /^concentration: 0\.09974/ })
  await expect(found).toBeVisible()

  await context.setOffline(false)
  await expect(page.getByText('Finished: the bottle is on the shelf')).toBeVisible()
  await expect(page.getByText(/No connection|kept here/)).toHaveCount(0)
  await expect(found).toBeVisible()
  const run = await onRecord(page)
  expect(run.outcome.status).toBe('finished')
  expect(run.facts.map((line) => line.fact.kind).join(' ')).toBe(
    'tared weighed decided transferred dissolved temperature mark mixed labelled',
  )
  const times = run.facts.map((line) => Date.parse(line.fact.at))
  expect(times).toEqual([...times].sort((a, b) => a - b))
})

test('a titration goes on without a network: trials, their agreement, a correction', async ({ page, context }) => {
  await withBottle(page, 'lye')
  await page.goto('/titrations')
  await expect(page.getByText(/About 2[45]\.\d mL a trial/)).toBeVisible()
  await field(page, 'Volume, mL each').press('Enter')
  await expect(page.getByRole('button', { name: 'Rinsed three times' })).toBeFocused()
  await carries(page)
  await context.setOffline(true)
  await page.keyboard.press('1')
  for (const [from, to] of [
    ['0', '25.3'],
    ['0', '24.95'],
    ['0', '25'],
  ] as const) {
    await page.getByRole('button', { name: '1 Done', exact: true }).press('1')
    await record(page, 'Burette', from)
    await expect(inSheet(page).getByText(/run it in, and read when you stop/)).toBeVisible()
    await record(page, 'Burette', to)
    await expect(page.getByRole('button', { name: 'That was the end point' })).toBeFocused()
    await page.keyboard.press('1')
  }
  await expect(inSheet(page).getByText(/Trials 2 and 3 agree within 0.10 mL: mean 24.98 mL/)).toBeVisible()
  // What is kept here is corrected here.
  const trials = page.getByRole('table', { name: /Trials/ })
  await trials.getByRole('button', { name: 'Correct the reading after, 25.00' }).press('Enter')
  const form = page.getByRole('complementary').locator('.correction')
  await form.getByLabel('Why').fill('misread')
  await form.getByLabel('Burette').fill('25.02')
  await form.getByLabel('Burette').press('Enter')
  await expect(trials.getByRole('button', { name: 'Correct the reading after, 25.02' })).toBeVisible()
  await page.keyboard.press('Control+Enter')
  await expect(page.getByRole('heading', { name: 'All is stated' })).toBeVisible()
  await context.setOffline(false)
  await expect(page.getByRole('heading', { name: 'Titrated' })).toBeVisible()
  await expect(page.getByText(/No connection|kept here/)).toHaveCount(0)
  const run = await onRecord(page)
  expect(run.outcome.status).toBe('finished')
  expect(run.facts.filter((line) => line.fact.kind === 'read')).toHaveLength(4)
})

test('a curve goes on without a network, and its readings stand on the plot', async ({ page, context, lab }) => {
  lab.plug(false)
  await page.goto('/curves')
  await expect(page.getByText(/^bottle \d+: Potassium hydrogen phthalate/).first()).toBeVisible()
  await page.getByRole('button', { name: /Take it to the bench/ }).click()
  await expect(page.getByRole('button', { name: '1 Done', exact: true })).toBeFocused()
  await carries(page)
  await page.keyboard.press('1')
  await record(page, 'Burette', '0')
  await expect(field(page, 'Potential shown')).toBeFocused()
  await context.setOffline(true)
  for (const [mL, mV] of [
    ['', '176.2'],
    ['5', '134'],
    ['10', '112'],
  ] as const) {
    if (mL) await record(page, 'Burette', mL)
    await record(page, 'Potential shown', mV)
  }
  await expect(field(page, 'Burette')).toBeFocused()
  const readings = page.getByRole('table', { name: 'Readings' }).getByRole('row')
  await expect(readings).toHaveCount(4)
  // Nobody who reads along is told what is not on record.
  expect((await onRecord(page)).facts).toHaveLength(2)
  await context.setOffline(false)
  await expect(page.getByText(/No connection|kept here/)).toHaveCount(0)
  await page.reload()
  await expect(readings).toHaveCount(4)
  expect((await onRecord(page)).facts).toHaveLength(7)
  lab.plug(true)
})

test('somebody else wrote meanwhile: both sides are told, and nothing is mixed', async ({ page, context, browser }) => {
  await begin(page)
  await carries(page)
  await record(page, 'Shown after taring', '0')
  await expect(field(page, 'Net mass shown')).toBeFocused()
  await context.setOffline(true)
  await record(page, 'Net mass shown', '5.0911')
  await expect(ahead(page)).toBeVisible()
  await page.keyboard.press('1')
  await expect(field(page, 'How many times')).toBeFocused()
  const other = await another(browser, new URL(page.url()).origin, 'thorne')
  await other.goto(page.url())
  await record(other, 'Net mass shown', '5.0922')
  await expect(other.getByText(/0\.26 % under/)).toBeVisible()
  await context.setOffline(false)
  const refused = page.getByRole('alert').filter({ hasText: 'was not taken' })
  await expect(refused).toContainText('“weighed 5.0911 g” was not taken')
  await expect(refused).toContainText('“decided keep-mass” was not taken')
  await expect(refused).toContainText(/IT.*5\.0922 g/)
  await expect(page.getByText(/0\.26 % under/)).toBeVisible()
  const run = await onRecord(page)
  expect(run.facts.map((line) => line.sentence).join(' ')).not.toContain('5.0911')
  await other.context().close()
})

test.describe('a page that is opened again', () => {
  test.use({ serviceWorkers: 'allow' })

  test('the server is gone: the run opens from the device, goes on, and goes on record when it is back', async ({
    browser,
    lab,
  }) => {
    const elsewhere = await Server.start('serve', lab.database)
    const page = await another(browser, elsewhere.url, 'ashdown')
    await page.goto(`${elsewhere.url}/standards`)
    await expect(page.getByText('5.1056')).toBeVisible()
    await page.getByRole('button', { name: 'Take it to the bench' }).click()
    await record(page, 'Shown after taring', '0')
    await expect(field(page, 'Net mass shown')).toBeFocused()
    // The device keeps the page, and from then on what the page asks for.
    await page.evaluate(async () => {
      await navigator.serviceWorker.ready
      if (!navigator.serviceWorker.controller)
        await new Promise((taken) => navigator.serviceWorker.addEventListener('controllerchange', taken))
    })
    await page.reload()
    await expect(field(page, 'Net mass shown')).toBeFocused()
    await carries(page)
    await elsewhere.stop()

    await record(page, 'Net mass shown', '5.0918')
    await expect(page.getByText('0.27 % under')).toBeVisible()
    await page.reload()
    await expect(page.getByText('0.27 % under')).toBeVisible()
    await expect(ahead(page)).toBeVisible()
    await page.keyboard.press('1')
    await expect(field(page, 'How many times')).toBeFocused()
    await page.keyboard.press('Enter')
    await expect(page.getByRole('button', { name: 'All dissolved, clear' })).toBeVisible()
    await expect(page.getByText('3 readings are kept here')).toBeVisible()

    const back = await Server.start('serve', lab.database, new URL(elsewhere.url).host)
    await expect(page.getByText(/No connection|kept here/)).toHaveCount(0)
    await page.reload()
    await expect(inSheet(page).getByText('Weighed 5.0918 g')).toBeVisible()
    // The reload may have come while the last of them was on its way: it is sent again.
    await expect
      .poll(async () => (await onRecord(page)).facts.map((line) => line.fact.kind).join(' '))
      .toBe('tared weighed decided transferred')
    // Who signs out takes along what the device kept of the answers.
    expect(await page.evaluate(() => caches.has('vialbench-answers'))).toBe(true)
    await page.request.delete(`${back.url}/api/v1/session`)
    await page.goto(`${back.url}/today`)
    await expect(page.getByLabel('Password')).toBeVisible()
    await expect.poll(() => page.evaluate(() => caches.has('vialbench-answers'))).toBe(false)
    await page.context().close()
    await back.stop()
  })

  test('a newer version is told on a page that stays open, and taken with what was typed kept', async ({
    browser,
    lab,
  }) => {
    // A server that comes to have another version of the page.
    let version = ''
    const between = createServer((asked, answer) => {
      const to = new URL(asked.url!, lab.server.url)
      const passed = request(
        to,
        { method: asked.method, headers: { ...asked.headers, 'accept-encoding': 'identity' } },
        (got) => {
          const isWorker = to.pathname === '/sw.js'
          const headers = { ...got.headers }
          if (isWorker) delete headers['content-length']
          answer.writeHead(got.statusCode!, headers)
          got.on('data', (part) => answer.write(part))
          got.on('end', () => answer.end(isWorker ? version : undefined))
        },
      )
      asked.pipe(passed)
    })
    await new Promise<void>((listens) => between.listen(0, '127.0.0.1', listens))
    const url = `http://127.0.0.1:${(between.address() as { port: number }).port}`
    const page = await another(browser, url, 'ashdown')
    await page.goto('/standards')
    await expect(page.getByText('5.1056')).toBeVisible()
    await page.getByRole('button', { name: 'Take it to the bench' }).click()
    await page.getByLabel('Note for the record').fill('half a note')
    await page.evaluate(() => navigator.serviceWorker.ready)
    version = '// another one'
    await page.evaluate(async () => void (await navigator.serviceWorker.getRegistration())!.update())
    const again = page.waitForEvent('load')
    await page.getByRole('button', { name: 'Load it' }).click()
    await again
    await expect(page.getByText('A newer version of this page is on the device.')).toBeHidden()
    await expect(page.getByLabel('Note for the record')).toHaveValue('half a note')
    await expect
      .poll(() => page.evaluate(async () => (await navigator.serviceWorker.getRegistration())!.waiting === null))
      .toBe(true)
    await page.context().close()
    between.closeAllConnections()
    between.close()
  })
})
