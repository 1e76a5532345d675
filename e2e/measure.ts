import type { Page } from '@playwright/test'
import { begin, expect, field, signIn, test, toTheLabel, weigh } from './bench'

// How long a person waits at the keyboard, and what a page weighs: `make measure` prints the rows of docs/load.md. Nothing fails here
// by being slow.

declare global {
  interface Window {
    waits: { key: string; ms: number }[]
  }
}

/** Notes in the page, for each key, when the last change of a part of it was painted. */
const watchWaits = (page: Page, part: string) =>
  page.evaluate((selector) => {
    let key = 0
    let name = ''
    let last = 0
    const note = () => {
      if (key && last > key) window.waits.push({ key: name, ms: last - key })
      key = last = 0
    }
    window.waits = []
    document.addEventListener(
      'keydown',
      (e) => {
        note()
        key = e.timeStamp
        name = e.key
      },
      true,
    )
    document.addEventListener('visibilitychange', note)
    new MutationObserver(() => {
      if (key) requestAnimationFrame(() => (last = performance.now()))
    }).observe(document.querySelector(selector)!, { childList: true, subtree: true, characterData: true })
  }, part)
const waits = (page: Page) =>
  page.evaluate(() => {
    document.dispatchEvent(new Event('visibilitychange'))
    return window.waits
  })

function say(what: string, list: Window['waits']) {
  const sorted = list.map((w) => w.ms).toSorted((a, b) => a - b)
  const at = (part: number) => sorted[Math.min(sorted.length - 1, Math.floor(part * sorted.length))]!.toFixed(0)
  console.log(`| ${what} | ${sorted.length} | ${at(0.5)} | ${at(0.95)} | ${at(1)} |`)
}
const slowed = async (page: Page, rate: number) =>
  (await page.context().newCDPSession(page)).send('Emulation.setCPUThrottlingRate', { rate })

test.beforeEach(async ({ page }) => signIn(page))

for (const rate of [1, 4])
  test(`key to recipe, CPU × ${rate}`, async ({ page }) => {
    test.setTimeout(600_000)
    for (const [path, label, part, start] of [
      ['/standards', 'How strong', 'aside', '0.1'],
      ['/buffers', 'pH wanted', 'aside', '7.'],
      ['/dilutions', 'Strength of the stock', 'aside', '0.1'],
      ['/titrations', 'Volume, mL each', 'aside', '10.'],
    ] as const) {
      await page.goto(path)
      const box = page.getByLabel(label, { exact: true })
      await expect(box).toBeVisible()
      await expect(page.locator(part).getByText(/\d/).first()).toBeVisible()
      await slowed(page, rate)
      await watchWaits(page, part)
      for (let round = 0; round < 8; round++) {
        await waits(page) // what is filled in next is no key
        await box.fill(start)
        await page.waitForTimeout(800)
        for (const digit of ['2', '5', '1']) {
          await box.press(digit)
          await page.waitForTimeout(600 * Math.sqrt(rate))
        }
      }
      say(`key to recipe, ${path.slice(1)}${rate > 1 ? `, CPU × ${rate}` : ''}`, await waits(page))
    }
  })

test('Enter to the next step', async ({ page }) => {
  const all: Window['waits'] = []
  for (let round = 0; round < 4; round++) {
    await begin(page)
    await watchWaits(page, '[aria-label="Run sheet"]')
    await weigh(page, '5.0918')
    await page.getByRole('button', { name: 'Keep this mass' }).press('1')
    await toTheLabel(page)
    all.push(...(await waits(page)))
  }
  say(
    'Enter to the next step of a standard',
    all.filter((w) => w.key === 'Enter'),
  )
  // A digit chooses once no other one has followed it for a third of a second: that would be a figure.
  say(
    'digit to the next step',
    all.filter((w) => w.key === '1'),
  )
})

for (const path of ['/today', '/standards'])
  test(`first load of ${path}`, async ({ page }) => {
    const cdp = await page.context().newCDPSession(page)
    await cdp.send('Network.enable')
    await cdp.send('Network.setCacheDisabled', { cacheDisabled: true })
    let bytes = 0
    let requests = 0
    cdp.on('Network.responseReceived', () => requests++)
    cdp.on('Network.loadingFinished', (e) => (bytes += e.encodedDataLength))
    await page.goto(path)
    await page.waitForTimeout(4000)
    console.log(`first load of ${path}: ${(bytes / 1024).toFixed(0)} kB, ${requests} requests`)
  })

test('the heap after 110 pages', async ({ page }) => {
  test.setTimeout(240_000)
  const cdp = await page.context().newCDPSession(page)
  const heap = async () => {
    await cdp.send('HeapProfiler.collectGarbage')
    const { usedSize } = await cdp.send('Runtime.getHeapUsage')
    return (usedSize / 1048576).toFixed(1)
  }
  await page.goto('/today')
  await expect(field(page, 'Find').or(page.locator('main')).first()).toBeVisible()
  const keys = ['s', 'd', 'u', 'p', 'i', 'a', 'h', 'l', 'e', 'k', 't']
  const visit = async () => {
    for (const key of keys) {
      await page
        .locator('main')
        .first()
        .click({ position: { x: 2, y: 2 } })
      await page.keyboard.press(key)
      await page.waitForTimeout(250)
    }
  }
  await visit()
  const before = await heap()
  for (let i = 0; i < 10; i++) await visit()
  console.log(`heap after 11 pages ${before} MB, after 110 more ${await heap()} MB`)
})
