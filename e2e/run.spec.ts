import { another, begin, expect, field, makeUp, Server, signIn, test, weigh } from './bench'

test.use({ allow: [/422/] }) // the browser notes every refused request

test.beforeEach(async ({ page }) => {
  await signIn(page)
  await begin(page)
})

test('a run survives a reload in the middle, and what was typed shows its reading', async ({ page }) => {
  await weigh(page, '5.0918')
  await page.reload()
  await expect(page.getByText('0.27 % under')).toBeVisible()
  await page.keyboard.press('1')
  await expect(page.getByText('Weighed 5.0918 g')).toBeVisible()
  await page.reload()
  await makeUp(page)
})

test('overshoot: remove and discard, then the larger flask', async ({ page }) => {
  await weigh(page, '5.31')
  await expect(page.getByText('4 % over, above the ±1 % band.')).toBeVisible()
  await expect(page.getByText('Fern shows 4 decimals in g')).toBeVisible()
  for (const choice of [
    'Keep this mass',
    'Remove 0.2044 g and discard it',
    'Take the 500 mL flask, take 4.9011 g more',
    'Start again',
  ])
    await expect(page.getByRole('button', { name: choice })).toBeVisible()
  await page.keyboard.press('2')
  await expect(field(page, 'Net mass shown')).toBeFocused()
  await page.keyboard.type('5.2500')
  await page.keyboard.press('Enter')
  await expect(page.getByText('2.8 % over')).toBeVisible()
  await page.keyboard.press('3')
  await expect(field(page, 'Net mass shown')).toBeFocused()
  await page.keyboard.type('10.2111')
  await page.keyboard.press('Enter')
  await expect(page.getByText('On the target, inside the ±1 % band.')).toBeVisible()
  await page.keyboard.press('1')
  await expect(page.getByText('Weighed 10.2111 g, 0.0600 g discarded')).toBeVisible()
  await expect(page.getByRole('img', { name: /^500 ± 0.25 mL, A/ })).toBeVisible()
  await expect(page.getByText('Fill to about 250 mL')).toBeVisible()
})

test('by difference: two readings, and a wrong order is refused', async ({ page }) => {
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'By difference' }).click()
  await field(page, 'Vessel with solid, before').fill('16.2254')
  await field(page, 'Vessel after pouring out').fill('21.3310')
  await page.keyboard.press('Enter')
  await expect(page.getByText('the vessel weighs less than before')).toBeVisible()
  await field(page, 'Vessel with solid, before').fill('21.3310')
  await field(page, 'Vessel after pouring out').fill('16.2254')
  await field(page, 'Vessel after pouring out').press('Enter')
  await expect(page.getByText('On the target')).toBeVisible()
})

test('past the mark: void, begun again; a wrong key is corrected instead', async ({ page }) => {
  await weigh(page, '5.1056')
  await expect(page.getByText('On the target')).toBeVisible()
  await page.keyboard.press('1')
  await makeUp(page)
  await page.keyboard.press('2')
  await expect(page.getByText('This run is void: past the mark')).toBeVisible()
  await expect(page.getByText('Nothing: a void run has no concentration.')).toBeVisible()
  const voided = page.url()

  await page.getByRole('button', { name: 'Begin again from the plan' }).click()
  await expect(page.getByText('This run is void')).toBeHidden()
  await expect(field(page, 'Shown after taring')).toBeFocused()

  await page.goto(voided)
  await page.getByRole('button', { name: 'Past the mark' }).click()
  await page.getByRole('button', { name: 'Correct' }).click()
  await page.getByRole('button', { name: 'Meniscus on the line' }).click()
  await expect(page.getByText('A correction needs a reason')).toBeVisible()
  await page.getByLabel('Why').fill('wrong key')
  await page.getByRole('button', { name: 'Meniscus on the line' }).click()
  await expect(page.getByRole('heading', { name: /^Stopper, hold the stopper/ })).toBeVisible()
  await expect(page.locator('s').filter({ hasText: 'past the mark' })).toBeVisible()
  await expect(page.getByText('corrected by RA: wrong key')).toBeVisible()
})

test('a correction after the end moves the bottle; the bottle is discarded with a reason', async ({ page }) => {
  await weigh(page, '5.0918')
  await expect(page.getByText('0.27 % under')).toBeVisible()
  await page.keyboard.press('1')
  await makeUp(page)
  await page.keyboard.press('1')
  await expect(field(page, 'How many times')).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('Keeps until')).toBeFocused()
  await page.getByLabel('Keeps until').fill('next year')
  await page.keyboard.press('Enter')
  await expect(page.getByText('the day it keeps until, like')).toBeVisible()
  await page.getByLabel('Keeps until').fill('2099-01-31')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: /^concentration: 0\.099738/ })).toBeVisible()

  await page.getByRole('button', { name: 'Weighed 5.0918 g' }).click()
  await page.getByRole('button', { name: 'Correct' }).first().click()
  await page.getByLabel('Why').fill('read upside down')
  await field(page, 'Net mass shown').fill('5.1218')
  await page.keyboard.press('Enter')
  await expect(page.locator('s').filter({ hasText: 'Weighed 5.0918 g' })).toBeVisible()
  await expect(page.getByRole('button', { name: /^concentration: 0\.10032/ })).toBeVisible()
  await page.getByRole('link', { name: 'Print its label' }).click()
  await expect(page.getByRole('button', { name: /^concentration: 0\.10032/ })).toBeVisible()
  await page.getByRole('button', { name: /volume at 20 °C/ }).click()
  await expect(
    page.getByRole('region', { name: 'Working: volume at 20 °C' }).getByText(/^249\.98 ± .* mL$/),
  ).toBeVisible()
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Discard this bottle' }).click()
  await expect(page.getByText('Ask what your local rules allow')).toBeVisible()
  await page.getByLabel('Why').fill('used up')
  await page.getByRole('button', { name: 'It is discarded' }).click()
  await expect(page.getByText('No longer on the shelf: discarded, used up (RA)')).toBeVisible()
  await expect(page.getByRole('link', { name: 'Print the label' })).toBeHidden()
})

test('given up: void with the reason, and signed out at the end of the day', async ({ page }) => {
  await page.getByRole('button', { name: 'Give this run up' }).click()
  await page.getByLabel('Why it is given up').fill('fire drill')
  await page.getByRole('button', { name: 'Make it void' }).click()
  await expect(page.getByText('This run is void: given up: fire drill')).toBeVisible()
  await page.goto('/today')
  await expect(page.getByRole('row').filter({ hasText: 'fire drill' })).toBeVisible()
  await page.getByRole('button', { name: /On the record/ }).click()
  await page.getByRole('button', { name: 'Sign out' }).click()
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible()
})

test('two people on one run, on two servers, see each other’s facts', async ({ page, browser, lab }) => {
  const elsewhere = await Server.start('serve', lab.database)
  const other = await another(browser, elsewhere.url, 'thorne')
  await other.goto(new URL(page.url()).pathname)
  await expect(field(other, 'Shown after taring')).toBeVisible()
  await weigh(page, '5.0918')
  await expect(other.getByText('0.27 % under')).toBeVisible()
  await other.keyboard.press('1')
  await expect(page.getByText('Transfer through the funnel')).toBeVisible()
  await expect(field(page, 'How many times')).toBeFocused()
  await page.getByRole('button', { name: 'Weighed 5.0918 g' }).click()
  await expect(page.getByText('Decided: keep this mass')).toBeVisible()
  await expect(
    page.getByRole('listitem').filter({ hasText: 'Decided: keep this mass' }).getByText(/^IT /).last(),
  ).toBeVisible()
  await other.context().close()
  await elsewhere.stop()
})

test.describe('when something breaks', () => {
  test.use({ allow: [/401|ERR_|Failed to load/] })

  test('an expired session: what was typed goes on record after signing in again', async ({ page, lab }) => {
    await page.keyboard.press('Enter')
    await expect(field(page, 'Net mass shown')).toBeFocused()
    await page.keyboard.type('5.0918')
    await expect(page.getByText('= 5.0918 g')).toBeVisible()
    lab.database.sql('DELETE FROM sign_ins')
    await page.keyboard.press('Enter')
    await expect(page.getByText('The session has ended.')).toBeVisible()
    await page.getByLabel('Password').fill('pond-water-week')
    await page.keyboard.press('Enter')
    await expect(page.getByText('The session has ended.')).toBeHidden()
    await expect(page.getByText('0.27 % under')).toBeVisible()
  })

  test('a dropped network: the reading is kept, also over a reload, and sent once', async ({ page, context }) => {
    await page.keyboard.press('Enter')
    await expect(field(page, 'Net mass shown')).toBeFocused()
    await context.route('**/api/v1/runs/*/facts', (route) => route.abort())
    await page.keyboard.type('5.0918')
    await page.keyboard.press('Enter')
    await expect(page.getByText('No connection. 1 reading is kept here')).toBeVisible()
    await context.unroute('**/api/v1/runs/*/facts')
    await page.reload()
    await expect(page.getByText('0.27 % under')).toBeVisible()
    await expect(page.getByText('No connection')).toBeHidden()
    await page.goto('/logbook')
    await expect(page.getByRole('row').filter({ hasText: 'Weighed 5.0918 g' }).first()).toBeVisible()
  })
})
