import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { extname, join } from 'node:path'
import { expect, test, type Page } from '@playwright/test'

// Drawings alone on a page: where a value is drawn, to the pixel.

let built = ''
test.beforeAll(() => {
  built = mkdtempSync(join(tmpdir(), 'parts-'))
  execFileSync('npx', ['vite', 'build', '--config', 'parts/vite.config.ts', '--outDir', built, '--logLevel', 'error'])
})
test.afterAll(() => rmSync(built, { recursive: true }))

const types: Record<string, string> = {
  '.html': 'text/html',
  '.js': 'text/javascript',
  '.css': 'text/css',
  '.woff2': 'font/woff2',
}
test.beforeEach(async ({ page }) => {
  await page.route('http://parts.test/**', (route) => {
    const file = new URL(route.request().url()).pathname.replace(/\/$/, '/index.html')
    return route.fulfill({ body: readFileSync(join(built, file)), contentType: types[extname(file)]! })
  })
  await page.goto('http://parts.test/')
})
const show = (page: Page, part: string, props: Record<string, unknown>) =>
  page.evaluate(
    ([name, given]) => (window as unknown as { show: (part: string, props: object) => void }).show(name, given),
    [part, props] as const,
  )

const axes = { x: { from: 0, to: 40, words: 'mL added' }, y: { from: 0, to: 14, words: 'pH' } }
/** Where a mark stands, in px of the drawing. */
const centre = async (page: Page, n: number) => {
  const mark = page.locator('svg .mark').nth(n)
  return [Number(await mark.getAttribute('cx')), Number(await mark.getAttribute('cy'))] as const
}

test('a plot goes up with y and to the right with x, in equal steps, and its line meets its marks', async ({
  page,
}) => {
  await show(page, 'XYPlot', {
    ...axes,
    label: 'a curve',
    lines: [{ points: [[0, 2], [20, 7], [40, 12]] }], // prettier-ignore
    marks: [{ at: [0, 2] }, { at: [20, 7] }, { at: [40, 12] }, { at: [50, 7] }, { at: [20, 15] }],
  })
  await expect(page.getByRole('img', { name: 'a curve' })).toBeVisible()
  await expect(page.locator('svg .mark')).toHaveCount(3) // what is outside is not drawn at the edge
  const [a, b, c] = [await centre(page, 0), await centre(page, 1), await centre(page, 2)]
  expect(a[0]).toBeLessThan(b[0])
  expect(b[0] - a[0]).toBeCloseTo(c[0] - b[0], 6)
  expect(a[1]).toBeGreaterThan(b[1])
  expect(a[1] - b[1]).toBeCloseTo(b[1] - c[1], 6)
  const drawn = (await page.locator('svg path.line').getAttribute('d'))!.match(/-?[\d.]+/g)!.map(Number)
  for (const [i, at] of [a, b, c].entries()) {
    expect(drawn[2 * i]).toBeCloseTo(at[0], 1)
    expect(drawn[2 * i + 1]).toBeCloseTo(at[1], 1)
  }
})

test('ticks are round, and stand where their figures say', async ({ page }) => {
  await show(page, 'XYPlot', { ...axes, label: 'ticks', marks: [{ at: [10, 10] }] })
  const texts = await page.locator('svg text').allTextContents()
  for (const round of ['0', '10', '20', '30', '2', '4', '12', '14']) expect(texts).toContain(round)
  expect(texts).toContain('pH')
  expect(texts).toContain('mL added')
  const [x, y] = await centre(page, 0)
  const ten = page.locator('svg text', { hasText: /^10$/ })
  expect(Number(await ten.first().getAttribute('y')) - 4).toBeCloseTo(y, 6) // on the axis of pH
  expect(Number(await ten.last().getAttribute('x'))).toBeCloseTo(x, 6) // on that of the volume
  await show(page, 'XYPlot', { label: 'below', x: { from: -0.03, to: 0.03, words: '' }, y: axes.y })
  expect(await page.locator('svg text').allTextContents()).toContain('−0.020')
})

test('an interval is as long as it is wide, cut at the edge; a band turns through its colours upwards', async ({
  page,
}) => {
  await show(page, 'XYPlot', {
    ...axes,
    label: 'bands',
    marks: [{ at: [10, 7], u: 1 }, { at: [20, 13.5], u: 2 }], // prettier-ignore
    bands: [
      { axis: 'y', from: 8, to: 10, colours: ['#ffffff', '#ff00ff'] },
      { axis: 'x', from: 30, to: 60, words: 'beyond' },
    ],
  })
  const spreads = page.locator('svg .spread')
  const ends = async (n: number) => [Number(await spreads.nth(n).getAttribute('y1')), Number(await spreads.nth(n).getAttribute('y2'))] // prettier-ignore
  const [low, high] = await ends(0)
  const [, top] = await ends(1)
  const unit = (low! - high!) / 2
  const [, seven] = await centre(page, 0)
  expect(low! - seven).toBeCloseTo(unit, 6)
  expect(seven - top!).toBeCloseTo(7 * unit, 6) // at 14, not at 15.5
  const tints = page.locator('svg rect.tint')
  expect(await tints.nth(0).getAttribute('fill')).toBe('#ffffff')
  expect(Number(await tints.nth(0).getAttribute('y'))).toBeGreaterThan(Number(await tints.nth(1).getAttribute('y')))
  expect(Number(await tints.nth(1).getAttribute('y'))).toBeCloseTo(seven - 3 * unit, 6)
  const band = page.locator('svg rect.useful')
  const frame = (await page.locator('svg').getAttribute('viewBox'))!.split(' ').map(Number)
  expect(Number(await band.getAttribute('x')) + Number(await band.getAttribute('width'))).toBeLessThan(frame[2]!)
  await expect(page.getByText('beyond')).toBeVisible()
})

test('words of rules that stand close are not written over one another', async ({ page }) => {
  const rules = [24.6, 24.9, 25.2, 39.9].map((at) => ({ axis: 'x', at, words: `${at.toFixed(2)} mL at its end` }))
  await show(page, 'XYPlot', { ...axes, label: 'rules', rules })
  await expect(page.locator('svg')).toHaveAttribute('viewBox', /^0 0 640 /)
  const boxes = await Promise.all(
    (await page.locator('svg .rule text').all()).map(async (t) => (await t.boundingBox())!),
  )
  expect(boxes).toHaveLength(4)
  for (const [i, a] of boxes.entries())
    for (const b of boxes.slice(i + 1))
      expect(a.x + a.width <= b.x || b.x + b.width <= a.x || Math.abs(a.y - b.y) >= 14).toBe(true)
  const frame = (await page.locator('svg').boundingBox())!
  for (const box of boxes) expect(box.x + box.width).toBeLessThanOrEqual(frame.x + frame.width + 1)
})

test('a plot keeps the size of its words on a phone', async ({ page }) => {
  await page.locator('#part').evaluate((e) => (e.style.width = '320px'))
  await show(page, 'XYPlot', { ...axes, label: 'narrow' })
  await expect(page.locator('svg')).toHaveAttribute('viewBox', /^0 0 320 /)
  const narrow = (await page.locator('svg text', { hasText: 'pH' }).boundingBox())!.height
  await page.locator('#part').evaluate((e) => (e.style.width = '900px'))
  await expect(page.locator('svg')).toHaveAttribute('viewBox', /^0 0 900 /)
  expect((await page.locator('svg text', { hasText: 'pH' }).boundingBox())!.height).toBeCloseTo(narrow, 0)
})

test('a predicted curve shows its equivalence and the band of the indicator', async ({ page }) => {
  const points = Array.from({ length: 41 }, (_, v) => ({ volume: v, pH: v < 25 ? 4 + v / 20 : 12 }))
  const indicator = { name: 'phenolphthalein', from: 8.2, to: 10, colours: ['#fff', '#fbd', '#f9c', '#f7b', '#e5a'], words: ['colourless', 'pink'] } // prettier-ignore
  await show(page, 'CurvePlot', {
    curve: { points, equivalences: [{ volume: 25, pH: 8.6, indicators: [indicator] }], verdicts: [] },
  })
  await expect(page.getByText('25.0 mL')).toBeVisible()
  await expect(page.getByText('Band: phenolphthalein, colourless to pink, pH 8.2 to 10.0.')).toBeVisible()
  await expect(page.locator('svg rect.tint')).toHaveCount(5)
})

test('tabs are walked with the arrows, round and round', async ({ page }) => {
  await show(page, 'TabRow', { label: 'ways', modelValue: 'a', tabs: [['a', 'One'], ['b', 'Two'], ['c', 'Three']] }) // prettier-ignore
  await expect(page.getByRole('tab', { name: 'One' })).toHaveAttribute('aria-selected', 'true')
  await page.getByRole('tab', { name: 'One' }).press('ArrowLeft')
  await expect(page.getByRole('tab', { name: 'Three' })).toBeFocused()
})

test('a burette runs down, a syringe shows what is left, and the line of sight is where the meniscus is read', async ({
  page,
}) => {
  const at = async (given: object) => {
    await show(page, 'BuretteDrawing', { scale: 50, division: 0.1, from: 0, expected: 25, dark: false, ...given })
    const y = async (what: string) => Number(await page.locator(`svg ${what}`).first().getAttribute('y'))
    const eye = Number(await page.locator('svg .eye').getAttribute('y1'))
    return { liquid: await y('rect.liquid'), eye, expected: Number(await page.locator('svg .expected').first().getAttribute('y1')) } // prettier-ignore
  }
  const [full, half, later] = [await at({ to: 0 }), await at({ to: 25 }), await at({ to: 40 })]
  expect(half.liquid - full.liquid).toBeCloseTo(((later.liquid - full.liquid) * 25) / 40, 6) // down, in proportion
  expect(half.liquid).toBeGreaterThan(full.liquid)
  expect(half.expected).toBeCloseTo(half.liquid, 6) // it stands where the end is expected
  await expect(page.getByRole('img', { name: 'Burette at 40.00 mL' })).toBeVisible()
  expect((await at({ to: 25, dark: true })).eye).toBeCloseTo(half.eye - 9, 6) // the top edge of a dark liquid
  await at({ to: 12, left: true })
  await expect(page.getByRole('img', { name: 'Syringe at 38.00 mL' })).toBeVisible()
})
