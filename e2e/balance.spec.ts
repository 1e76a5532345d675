import { begin, expect, field, makeUp, signIn, test } from './bench'

test.use({ allow: [/409|422/] }) // the browser notes every refused request
test.beforeEach(async ({ page, lab }) => {
  lab.database.change(`UPDATE balances SET address = '${lab.standin}' WHERE name = 'Fern'`)
  await signIn(page)
})

test.afterEach(async ({ page, lab }) => {
  // whoever comes next finds an empty pan, a quiet room and the cable in
  const id = lab.database.sql("SELECT id FROM balances WHERE name = 'Fern'")
  for (const data of [{ link: 'ON' }, { draught: 'OFF' }, { pan: 0 }])
    await page.request.post(`/api/v1/balances/${id}/standin`, { data })
  lab.database.change("UPDATE balances SET address = ''")
})

type Page = import('@playwright/test').Page

const shows = (page: Page) => page.getByRole('group', { name: 'Balance Fern' })
const hand = (page: Page, name: string) => page.getByRole('button', { name, exact: true }).click()

/** Puts a vessel on, tares it and records the zero, by Enter alone. */
async function tareVessel(page: Page) {
  await expect(page.getByText('a stand-in, simulated')).toBeVisible()
  await page.getByText('Stand-in balance, by hand').click()
  await hand(page, 'A vessel on')
  await expect(shows(page).getByText('still moves')).toBeVisible()
  await expect(shows(page).getByText('stands')).toBeVisible({ timeout: 10_000 })
  const button = shows(page).getByRole('button', { name: /^Ta[kr]e it/ })
  await button.focus()
  if ((await button.textContent())?.includes('Tare')) await page.keyboard.press('Enter')
  await expect(shows(page).getByText('0.0000 g')).toBeVisible()
  await expect(shows(page).getByRole('button', { name: 'Take it' })).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(page.getByText('weighing vessel tared at 0.0000 g')).toBeVisible()
}

test('the connected balance: taken with Enter once it stands, refused in a draught', async ({ page }) => {
  await begin(page)
  await tareVessel(page)
  await page.getByLabel('Pour on, g').fill('5.0918')
  await hand(page, 'Pour')
  await hand(page, 'A draught')
  await expect(shows(page).getByText('still moves')).toBeVisible()
  await shows(page).getByRole('button', { name: 'Take it' }).focus()
  await page.keyboard.press('Enter')
  await expect(page.getByText(/The reading still moves, by \d/)).toBeVisible()
  await expect(page.getByRole('button', { name: 'Wait until it stands' })).toBeFocused()
  await hand(page, 'No draught')
  await expect(shows(page).getByText('stands')).toBeVisible({ timeout: 10_000 })
  await expect(page.getByText(/The reading still moves, by/)).toBeHidden() // nothing is left to ask
  await expect(shows(page).getByRole('button', { name: 'Take it' })).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(page.getByText('0.27 % under, inside the ±1 % band.')).toBeVisible()
  await page.keyboard.press('1')
  await makeUp(page)
  await page.getByRole('button', { name: 'Weighed 5.0918 g' }).click()
  await expect(page.getByText('Weighed 5.0918 g, read from Fern')).toBeVisible()
})

test('taken while it moves: counted as uncertainty, and said so', async ({ page }) => {
  await begin(page)
  await tareVessel(page)
  await page.getByLabel('Pour on, g').fill('5.1056')
  await hand(page, 'Pour')
  await expect(shows(page).getByText('still moves')).toBeVisible()
  await expect(shows(page).getByText('stands')).toBeVisible({ timeout: 10_000 }) // the pouring is over
  await expect(shows(page).getByText('5.1056 g')).toBeVisible()
  await hand(page, 'A draught')
  await expect(shows(page).getByText('still moves')).toBeVisible()
  await expect(shows(page).getByText('5.1056 g')).toBeHidden() // some of the draught is seen
  await shows(page).getByRole('button', { name: 'Take it' }).click()
  await page.getByRole('button', { name: 'Take it as it is' }).click()
  await expect(page.getByText(/Taken while it still moved by 0\.00\d\d g/)).toBeVisible()
})

test('the cable is pulled in the middle: type on, and it comes back', async ({ page }) => {
  await begin(page)
  await tareVessel(page)
  await hand(page, 'Pull the cable')
  await expect(page.getByText('Fern does not answer: look at the cable and the power.')).toBeVisible()
  await expect(shows(page).getByText('no reading')).toBeVisible()
  await shows(page).getByRole('button', { name: 'Take it' }).press('Enter')
  await expect(field(page, 'Net mass shown')).toBeFocused() // nothing to take: the field for typing instead
  await hand(page, 'Plug the cable in')
  await expect(shows(page).getByText(/\d g/)).toBeVisible()
  await hand(page, 'Pull the cable')
  await expect(shows(page).getByText('no reading')).toBeVisible()
  await field(page, 'Net mass shown').fill('5.1056')
  await page.keyboard.press('Enter')
  await expect(page.getByText('On the target, inside the ±1 % band.')).toBeVisible()
})

test('a failed check marks what was weighed since the last good one', async ({ page }) => {
  const check = async (reading: string) => {
    await page.goto('/setup/balances')
    await page.getByRole('button', { name: 'Check Fern' }).click()
    await field(page, 'The balance shows, g').fill(reading)
    await page.keyboard.press('Enter')
  }
  await check('100.0002')
  await expect(page.getByRole('list', { name: 'Checks' }).getByText('Passed').first()).toBeVisible()
  await begin(page)
  const run = page.url()
  for (const [label, text] of [
    ['Shown after taring', '0'],
    ['Net mass shown', '5.1056'],
  ] as const) {
    await field(page, label).fill(text) // beside the connected balance
    await field(page, label).press('Enter')
  }
  await expect(page.getByText('On the target')).toBeVisible()
  await check('100.0052')
  await expect(page.getByText('0.0052 g off, and at most ±0.0011 g would be right.')).toBeVisible()
  await expect(page.getByText('failed its check').first()).toBeVisible() // the bench strip
  await expect(
    page
      .getByRole('region', { name: 'What depends on Fern' })
      .getByRole('row', { name: /in progress/ })
      .first(),
  ).toBeVisible()
  await page.goto(run)
  await expect(page.getByText(/^Fern failed its check on .* weigh again or standardise\.$/)).toBeVisible()
  await check('100.0001')
  await expect(page.getByText('failed its check')).toBeHidden()
  await page.goto(run) // what was weighed before the failed check stays in doubt
  await expect(page.getByText(/^Fern failed its check on/)).toBeVisible()
})
