import { another, begin, expect, field, record, signIn, test } from './bench'

type Page = import('@playwright/test').Page

/** Counts what a page asks the server for, by path. */
function asked(page: Page) {
  const count = new Map<string, number>()
  page.on('request', (r) => {
    const { pathname } = new URL(r.url())
    if (r.method() === 'GET' && pathname.startsWith('/api/v1/')) count.set(pathname, (count.get(pathname) ?? 0) + 1)
  })
  return (path: string) => count.get(`/api/v1${path}`) ?? 0
}

test.beforeEach(async ({ page, lab }) => {
  lab.plug(false)
  await signIn(page)
})

test('a page that opens asks for what it shows once; what others do reaches those who show it', async ({
  page,
  browser,
  lab,
}) => {
  const count = asked(page)
  const stream = page.waitForRequest(/\/api\/v1\/events\?/)
  await page.goto('/')
  await stream
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible()
  const other = await another(browser, lab.server.url, 'thorne')
  await begin(other)
  await record(other, 'Shown after taring', '0')
  await expect(field(other, 'Net mass shown')).toBeFocused()
  await expect(page.getByRole('main').getByText('Weigh', { exact: false }).first()).toBeVisible()
  // Today was looked up again, what nobody changed was not.
  await expect.poll(() => count('/today')).toBeGreaterThan(1)
  expect(count('/bench')).toBe(1)
  expect(count('/today')).toBeLessThan(5)
  await other.context().close()
})

test('what one states comes with the answer: the run is not read again', async ({ page, browser, lab }) => {
  await begin(page)
  const path = new URL(page.url()).pathname
  await expect(field(page, 'Shown after taring')).toBeFocused()
  const count = asked(page)
  await record(page, 'Shown after taring', '0')
  await record(page, 'Net mass shown', '5.0918')
  await expect(page.getByText('0.27 % under')).toBeVisible()
  expect(count(path)).toBe(0)
  const other = await another(browser, lab.server.url, 'thorne')
  await other.goto(path)
  await other.getByRole('button', { name: 'Keep this mass' }).click()
  await expect(field(page, 'How many times')).toBeVisible() // of somebody else it is
  expect(count(path)).toBe(1)
  await other.context().close()
})

test('each question begins in its first field', async ({ page }) => {
  for (const [path, label] of [
    ['/standards', 'What'],
    ['/dilutions', 'From'],
    ['/buffers', 'pH wanted'],
    ['/readings', 'Samples, in a few words'],
    ['/capacity', 'Buffer'],
    ['/titrations', 'Titration'],
    ['/curves', 'Sample'],
    ['/drops', 'Tip'],
    ['/absorbance', 'Read from'],
    ['/scans', 'What is scanned'],
    ['/mixtures', 'First substance'],
  ] as const) {
    await page.goto(path)
    await expect(page.locator('input:focus')).toHaveAccessibleName(label)
  }
})
