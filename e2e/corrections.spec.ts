import type { Page } from '@playwright/test'
import type { components } from '../frontend/src/api/schema'
import { expect, signIn, test } from './bench'

type Run = components['schemas']['Run']
type Step = components['schemas']['Step']

// Every reading of the sample records is corrected where it was taken: in a field of the same name,
// with its unit and with what was read.
test.use({ allow: [/422/] })
test.beforeEach(({ page }) => signIn(page))

async function get<T>(page: Page, path: string): Promise<T> {
  const answer = await page.request.get(`/api/v1${path}`)
  expect(answer.ok(), path).toBe(true)
  return (await answer.json()) as T
}

for (const kind of [
  'standard',
  'dilution',
  'buffer',
  'calibration',
  'readings',
  'capacity',
  'titration',
  'curve',
  'droptip',
]) {
  test(`each reading of a ${kind} run opens its own field`, async ({ page }) => {
    const { items } = await get<{ items: Run['summary'][] }>(page, `/runs?kind=${kind}`)
    const listed = items.find((r) => r.status === 'finished') ?? items.find((r) => r.status === 'open')
    const run = await get<Run>(page, `/runs/${listed!.id}`)
    const facts = new Map(run.facts.map((line) => [line.fact.id, line.fact]))
    await page.goto(`/runs/${listed!.id}`)
    let opened = 0
    for (const step of run.outcome.steps.filter((s) => s.state === 'done').slice(0, 12)) {
      const body = page.locator('li.step').nth(run.outcome.steps.indexOf(step))
      await body.locator('button.summary').click()
      const corrections = body.getByRole('button', { name: 'Correct', exact: true })
      const mine = (step.facts ?? []).map((id) => facts.get(id)!).filter((f) => f.kind !== 'decided')
      await expect(corrections).toHaveCount(mine.length)
      for (const [i, fact] of mine.slice(0, 4).entries()) {
        const asked = await get<Step>(page, `/runs/${run.summary.id}/facts/${fact.id}/asked`)
        expect([asked.kind, asked.part ?? 0]).toEqual([fact.kind, fact.part ?? 0])
        await corrections.nth(i).click()
        const form = body.locator('.correction')
        await expect(form.locator('.step-input')).toBeVisible()
        if (fact.quantity && !fact.after && asked.label) {
          const box = form.getByLabel(asked.label, { exact: true })
          expect(Number.parseFloat((await box.inputValue()).replace('−', '-'))).toBeCloseTo(fact.quantity.value, 3)
          await expect(box).toHaveValue(new RegExp(`${fact.quantity.unit.replace('°', '.')}|^[-−]?[0-9.]+$`))
        }
        opened++
        await form.getByRole('button', { name: 'Leave it' }).click()
        await expect(form).toBeHidden()
      }
    }
    expect(opened).toBeGreaterThan(0)
  })
}

for (const [kind, what] of [
  ['readings', /^Correct /],
  ['capacity', /^Correct (the pH|what was added), /],
  ['titration', /^Correct the (sample|reading before|reading after), /],
  ['curve', /^Correct the (volume|pH), /],
  ['absorbance', /^Correct (the blank|Bottle 1\d|Pond|Tap)/],
  ['scan', /^Correct \d+ nm/],
  ['mixture', /^Correct (the blank|Stream above the weir|Mill pond, outlet) at \d+ nm/],
] as const) {
  test(`what was read of a ${kind} run is corrected where it stands beside the plot`, async ({ page }) => {
    const { items } = await get<{ items: Run['summary'][] }>(page, `/runs?kind=${kind}`)
    await page.goto(`/runs/${items.find((r) => r.status === 'finished')!.id}`)
    const cells = page.getByRole('complementary').getByRole('button', { name: what })
    await expect(cells.first()).toBeVisible()
    const form = page.getByRole('complementary').locator('.correction')
    for (const i of [0, (await cells.count()) - 1]) {
      const cell = cells.nth(i)
      await cell.press('Enter')
      await expect(cell).toHaveAttribute('aria-expanded', 'true')
      await expect(form.locator('.step-input')).toBeVisible()
      await form.getByRole('button', { name: 'Leave it' }).click()
      await expect(form).toBeHidden()
    }
    // Without a reason nothing is corrected.
    await cells.first().press('Enter')
    await form.locator('.quantity input, .options button').first().press('Enter')
    await expect(form.getByText('A correction needs a reason')).toBeVisible()
  })
}

// What `=` opens on a run is the working of the figure that the run is about.
for (const [kind, about] of [
  ['standard', /^Working: concentration/],
  ['dilution', /^Working: tube/i],
  ['buffer', /^Working: pH/],
  ['calibration', /^Working: slope/],
  ['readings', /^Working: /],
  ['capacity', /^Working: .*capacity/i],
  ['titration', /^Working: concentration of potassium permanganate/],
  ['curve', /^Working: concentration of potassium hydrogen phthalate/],
  ['droptip', /^Working: .*drop/],
  ['absorbance', /^Working: Pond, at the inlet, before it was diluted/],
  ['scan', /^Working: maximum between the readings/],
  ['mixture', /^Working: Alder red in stream above the weir/i],
] as const) {
  test(`the key = opens the working of what a ${kind} run is about`, async ({ page }) => {
    const { items } = await get<{ items: Run['summary'][] }>(page, `/runs?kind=${kind}`)
    const run = items.find((r) => r.status === 'finished')!
    await page.goto(`/runs/${run.id}`)
    await expect(page.getByRole('list', { name: 'Run sheet' })).toBeVisible()
    await page.keyboard.press('=')
    await expect(page.getByRole('region', { name: about })).toBeVisible()
  })
}
