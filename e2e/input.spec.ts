import { begin, expect, field, record, signIn, test, unfold } from './bench'

// Wrong input gets a sentence that says what would be right; the browser itself
// notes every refused request in the console.
test.use({ allow: [/422|400/] })
test.beforeEach(({ page }) => signIn(page))

test('the question refuses nonsense and keeps it on screen', async ({ page }) => {
  await page.goto('/standards')
  const recipe = page.getByRole('complementary', { name: 'Recipe' })
  await expect(recipe.getByText('5.1056')).toBeVisible()
  await unfold(page, 'The bottle at hand')
  for (const [label, text, says] of [
    ['How much', '70 L', 'at most 60 L'],
    ['How much', '-5 mL', 'a volume is at least 0.1 mL'],
    ['How much', '', 'nothing written'],
    ['How much', '0.1 mol/L', 'this is a volume'],
    ['How much', '1,000 mL', 'this can be read as 1000 or as 1.000'],
    ['How strong', '0', 'above zero'],
    ['How strong', 'strong', 'there is no number'],
    ['How strong', '9'.repeat(10_000), 'too long for a quantity'],
    ['Assay on the bottle, % w/w', '0', 'above 0 and at most 102 %'],
    ['Assay on the bottle, % w/w', '103', 'above 0 and at most 102 %'],
    ['Assay on the bottle, % w/w', 'x', 'write a number, like 99.95'],
  ] as const) {
    const box = field(page, label)
    const before = await box.inputValue()
    await box.fill(text)
    await expect(page.locator('.question').getByText(says).first()).toBeVisible()
    await box.fill(before)
    await expect(recipe.getByText('5.1056')).toBeVisible()
  }
  await field(page, 'How much').fill('260 mL')
  await expect(recipe.getByText('There is no flask of 260 mL')).toBeVisible()
  await recipe.getByRole('button', { name: 'Make 250 mL' }).click()
  await expect(field(page, 'How much')).toHaveValue('250 mL')
  await field(page, 'How strong').fill('2 mol/L')
  await expect(recipe.getByText('This much does not dissolve')).toBeVisible()
  await field(page, 'How strong').fill('0.001 mol/L')
  await expect(recipe.getByText('is less than Fern weighs to 0.1 %')).toBeVisible()
  await page.reload()
  await expect(field(page, 'How strong')).toHaveValue('0.001 mol/L')
})

test('the balance reading refuses what cannot be', async ({ page }) => {
  await begin(page)
  await record(page, 'Shown after taring', '0')
  const mass = field(page, 'Net mass shown')
  for (const [text, says] of [
    ['0', 'a mass is above zero'],
    ['-2', 'a mass is above zero'],
    ['1e9 g', 'carries up to 220 g'],
    ['5 mL', 'this is a mass'],
    ['five', 'there is no number'],
    ['1,2.3', 'two ways'],
    ['', 'nothing written'],
  ] as const) {
    await mass.fill(text)
    await mass.press('Enter')
    await expect(page.getByText(says)).toBeVisible()
    await expect(mass).toHaveValue(text)
  }
  await mass.fill('5,1056')
  await expect(page.getByText('= 5.1056 g')).toBeVisible()
  await mass.press('ArrowUp')
  await expect(mass).toHaveValue('5,1057')
  await mass.press('Escape')
  await expect(mass).toHaveValue('')
})

test('a note with HTML and ten thousand characters stays text', async ({ page }) => {
  await begin(page)
  await page.getByLabel('Note for the record').fill('<img src=x onerror=alert(1)> poured slowly')
  await page.getByRole('button', { name: 'Add the note' }).click()
  await expect(page.getByText('<img src=x onerror=alert(1)> poured slowly')).toBeVisible()
  await page.getByLabel('Note for the record').fill('y'.repeat(10_000))
  await page.getByRole('button', { name: 'Add the note' }).click()
  await expect(page.getByRole('listitem').filter({ hasText: /^y{2000}/ })).toBeVisible()
})

test('a substance named before the list of the lab has come is taken once it is there', async ({ page }) => {
  let come = () => {}
  const list = new Promise<void>((resolve) => (come = resolve))
  await page.route('**/api/v1/substances', async (route) => {
    await list
    await route.continue()
  })
  const found = page.waitForResponse(/substances\/search\?q=permang/)
  await page.goto('/standards')
  await expect(page.getByRole('combobox', { name: 'What' })).toBeFocused()
  await page.keyboard.type('permang')
  await page.keyboard.press('Enter')
  await found
  come()
  await expect(page.getByText('158.03 g/mol')).toBeVisible()
})

test.describe('a server that is busy', () => {
  test.use({ allow: [/429/] })

  test('is asked again by itself', async ({ page }) => {
    let asked = 0
    await page.route('**/api/v1/compute/standard', async (route) => {
      if (++asked > 2) return route.continue()
      await route.fulfill({
        status: 429,
        headers: { 'Retry-After': '1' },
        contentType: 'application/problem+json',
        body: JSON.stringify({ title: 'Too Many Requests', status: 429, detail: 'too many computations are waiting' }),
      })
    })
    await page.goto('/standards')
    await expect(page.getByText('Too many computations are waiting')).toBeVisible()
    await expect(page.getByText('5.1056')).toBeVisible()
    await expect(page.getByText('Too many computations are waiting')).toBeHidden()
  })
})
