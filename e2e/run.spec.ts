import { another, begin, expect, field, makeUp, record, Server, signIn, test, toTheLabel, weigh } from './bench'

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
  await expect(field(page, 'How many times')).toBeFocused()
  await page.reload()
  await expect(page.getByText('Weighed 5.0918 g')).toBeVisible()
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
  await record(page, 'Shown after taring', '0')
  await page.getByRole('button', { name: 'By difference' }).click()
  await field(page, 'Vessel before pouring out').fill('16.2254')
  await field(page, 'Vessel after pouring out').fill('21.3310')
  await page.keyboard.press('Enter')
  await expect(page.getByText('the vessel weighs less than before')).toBeVisible()
  await field(page, 'Vessel before pouring out').fill('21.3310')
  await page.keyboard.press('Enter')
  await expect(field(page, 'Vessel after pouring out')).toBeFocused()
  await field(page, 'Vessel after pouring out').fill('16.2254')
  await page.keyboard.press('Enter')
  await expect(page.getByText('On the target')).toBeVisible()
  await page.getByRole('button', { name: 'Correct', exact: true }).last().click()
  await page.getByLabel('Why').fill('misread')
  await expect(field(page, 'Vessel before pouring out')).toHaveValue('21.3310 g')
  await field(page, 'Vessel after pouring out').fill('16.1254')
  await page.keyboard.press('Enter')
  await expect(page.getByText(/2 % over/)).toBeVisible()
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
  await toTheLabel(page)
  await page.getByLabel('Keeps until').fill('next year')
  await page.keyboard.press('Enter')
  await expect(page.getByText('the day it keeps until, like')).toBeVisible()
  await page.getByLabel('Keeps until').fill('2099-01-31')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: /^concentration: 0\.09974/ })).toBeVisible()

  await page.getByRole('button', { name: 'Weighed 5.0918 g' }).click()
  let come = () => {}
  const late = new Promise<void>((resolve) => (come = resolve))
  await page.route('**/asked', async (route) => {
    await late
    await route.continue()
  })
  await page.getByRole('button', { name: 'Correct' }).first().click()
  await expect(page.getByLabel('Why')).toBeFocused()
  await page.keyboard.type('read upside ')
  come()
  await expect(field(page, 'Net mass shown')).toHaveValue('5.0918 g')
  await page.keyboard.type('down') // the field that came does not take it
  await expect(page.getByLabel('Why')).toHaveValue('read upside down')
  await page.keyboard.press('Enter')
  await expect(field(page, 'Net mass shown')).toBeFocused()
  await field(page, 'Net mass shown').fill('5.1218')
  await page.keyboard.press('Enter')
  await expect(page.locator('s').filter({ hasText: 'Weighed 5.0918 g' })).toBeVisible()
  await expect(page.getByRole('button', { name: /^concentration: 0\.1003[23]/ })).toBeVisible()
  await page.getByRole('status').getByRole('link', { name: 'shelf' }).click()
  await expect(page.getByText(/^Bottle \d+$/)).toBeVisible() // the run has a figure of that name, too
  await expect(page.getByRole('button', { name: /^concentration: 0\.1003[23]/ })).toBeVisible()
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
  await page.getByRole('button', { name: 'Void this run' }).click()
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
  test.use({ allow: [/401|422|429|ERR_|Failed to load/] })

  test('an expired session: what was typed goes on record after signing in again', async ({ page, lab }) => {
    await record(page, 'Shown after taring', '0')
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

  test('somebody else signs in instead: the reading waits for its author', async ({ page, lab }) => {
    await record(page, 'Shown after taring', '0')
    await expect(field(page, 'Net mass shown')).toBeFocused()
    await page.keyboard.type('5.0917')
    await expect(page.getByText('= 5.0917 g')).toBeVisible() // else reading it may end the session before Enter
    lab.database.sql('DELETE FROM sign_ins')
    await page.keyboard.press('Enter')
    await expect(page.getByText('The session has ended.')).toBeVisible()
    await page.getByLabel('Sign-in name').fill('thorne')
    await page.getByLabel('Password').fill('pond-water-week')
    await page.keyboard.press('Enter')
    await expect(page.getByText('This reading was typed by somebody else.')).toBeVisible()
    await page.getByRole('button', { name: /On the record/ }).click()
    await page.getByRole('button', { name: 'Sign out' }).click()
    await page.getByLabel('Sign-in name').fill('ashdown')
    await page.getByLabel('Password').fill('pond-water-week')
    await page.keyboard.press('Enter')
    await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible()
    await page.goto('/logbook')
    const row = page.getByRole('row').filter({ hasText: 'Weighed 5.0917 g' }).first()
    await expect(row).toBeVisible()
    await expect(row.getByRole('cell', { name: 'RA', exact: true })).toBeVisible()
  })

  test('a dropped network: the reading is kept, also over a reload, and sent once', async ({ page, context }) => {
    await record(page, 'Shown after taring', '0')
    await expect(field(page, 'Net mass shown')).toBeFocused()
    await context.route('**/api/v1/runs/*/facts*', (route) => route.abort())
    await page.keyboard.type('5.0918')
    await page.keyboard.press('Enter')
    await expect(page.getByText('No connection. 1 reading is kept here')).toBeVisible()
    await context.unroute('**/api/v1/runs/*/facts*')
    await page.reload()
    await expect(page.getByText('0.27 % under')).toBeVisible()
    await expect(page.getByText('No connection')).toBeHidden()
    await page.goto('/logbook')
    await expect(page.getByRole('row').filter({ hasText: 'Weighed 5.0918 g' }).first()).toBeVisible()
  })

  test('off line: notes are kept behind the reading, drafts over a reload, and what cannot come says so', async ({
    page,
    context,
  }) => {
    await record(page, 'Shown after taring', '0')
    await expect(field(page, 'Net mass shown')).toBeFocused()
    const draft = page.getByLabel('Note for the record')
    await draft.fill('the fan is')
    await page.reload()
    await expect(draft).toHaveValue('the fan is')
    await expect(page.locator('[data-carries]')).toBeVisible()
    await context.setOffline(true)
    await field(page, 'Net mass shown').focus()
    await page.keyboard.type('5.0918')
    await page.keyboard.press('Enter')
    await expect(page.getByText('No connection. 1 reading is kept here')).toBeVisible()
    await expect(page.getByText('The sheet goes on by the same rules, worked out on this device')).toBeVisible()
    await expect(page.getByText('0.27 % under')).toBeVisible()
    await draft.fill('the fan is off')
    await page.getByRole('button', { name: 'Add the note' }).click()
    await expect(draft).toHaveValue('')
    await expect(page.getByText('the fan is off kept here, not on record yet')).toBeVisible()
    await expect(page.getByText('No connection. 2 readings are kept here')).toBeVisible()
    await page.getByRole('link', { name: /Logbook/ }).click()
    await expect(page.getByText('“Logbook” cannot be fetched now: there is no connection')).toBeVisible()
    await context.setOffline(false)
    await expect(page.getByText('0.27 % under')).toBeVisible()
    await expect(page.getByText(/^No connection/)).toBeHidden()
    await page.getByRole('link', { name: /Logbook/ }).click()
    await expect(page.getByRole('row').filter({ hasText: 'Note: the fan is off' }).first()).toBeVisible()
    await expect(page.getByRole('row').filter({ hasText: 'Weighed 5.0918 g' }).first()).toBeVisible()
  })

  test('the database is away in the middle of a run: the reading waits, and goes on record once', async ({
    page,
    lab,
  }) => {
    await record(page, 'Shown after taring', '0')
    await expect(field(page, 'Net mass shown')).toBeFocused()
    lab.database.away(true)
    await page.keyboard.type('5.0916')
    await page.keyboard.press('Enter')
    await expect(page.getByText('No connection. 1 reading is kept here')).toBeVisible()
    lab.database.away(false)
    await expect(page.getByText('0.27 % under')).toBeVisible()
    await expect(page.getByText('No connection')).toBeHidden()
    await page.goto('/logbook')
    await expect(page.getByRole('row').filter({ hasText: 'Weighed 5.0916 g' })).toHaveCount(1)
  })

  test('cut off after the commit: sent again under the same ID, and on record once', async ({ page, context }) => {
    await record(page, 'Shown after taring', '0')
    await expect(field(page, 'Net mass shown')).toBeFocused()
    let cuts = 0
    await context.route('**/api/v1/runs/*/facts*', async (route) => {
      if (cuts++ > 1) return route.continue()
      await route.fetch() // the server has it
      await route.abort() // and nobody hears of it
    })
    await page.keyboard.type('5.0914')
    await page.keyboard.press('Enter')
    await expect(page.getByText('No connection. 1 reading is kept here')).toBeVisible()
    await expect(page.getByText('0.28 % under')).toBeVisible()
    await expect(page.getByText('No connection')).toBeHidden()
    await page.goto('/logbook')
    await expect(page.getByRole('row').filter({ hasText: 'Weighed 5.0914 g' })).toHaveCount(1)
    expect(cuts).toBeGreaterThan(2)
  })

  test('a browser without a database of its own sends all the same', async ({ page }) => {
    await page.addInitScript(() => {
      indexedDB.open = () => {
        throw new DOMException('not here', 'SecurityError')
      }
    })
    await page.reload()
    await page.getByLabel('Note for the record').fill('from a private window')
    await page.getByRole('button', { name: 'Add the note' }).click()
    await expect(page.getByRole('listitem').filter({ hasText: 'from a private window' })).toBeVisible()
  })

  for (const how of ['closed', 'silent'])
    test(`a browser whose database is ${how}, as after a sleep, sends all the same`, async ({ page }) => {
      await expect(field(page, 'Shown after taring')).toBeFocused()
      await page.evaluate((how) => {
        if (how === 'closed')
          IDBDatabase.prototype.transaction = () => {
            throw new DOMException('the connection is closing', 'InvalidStateError')
          }
        else
          indexedDB.open('vialbench').onsuccess = (event) => {
            const { result } = event.target as IDBOpenDBRequest
            const store = result.transaction('sender', 'readwrite').objectStore('sender')
            const hold = () => (store.get('sender').onsuccess = hold) // whoever comes after it waits
            hold()
          }
      }, how)
      await record(page, 'Shown after taring', '0')
      await expect(field(page, 'Net mass shown')).toBeFocused()
      await record(page, 'Net mass shown', '5.0916')
      await expect(page.getByText('0.27 % under')).toBeVisible()
    })

  test('an answer that says nothing: the reading stays in sight, and can be thrown away', async ({ page, context }) => {
    await record(page, 'Shown after taring', '0')
    await expect(field(page, 'Net mass shown')).toBeFocused()
    await context.route('**/api/v1/runs/*/facts*', (route) =>
      route.fulfill({
        status: 500,
        contentType: 'application/problem+json',
        body: JSON.stringify({ type: 'about:blank', title: 'x', status: 500, detail: 'something went wrong here' }),
      }),
    )
    await page.keyboard.type('5.0915')
    await page.keyboard.press('Enter')
    const waiting = page.getByRole('status', { name: 'Readings not on record yet' })
    await expect(waiting).toContainText('“weighed 5.0915 g” is kept here and sent again. Something went wrong here')
    await page.reload()
    await expect(waiting).toContainText('weighed 5.0915')
    await waiting.getByRole('button', { name: 'Throw it away…' }).click()
    await waiting.getByRole('button', { name: 'Throw it away', exact: true }).click()
    await expect(waiting).toBeHidden()
  })

  test('a server that asks to wait gets the reading later, and nothing before it', async ({ page, context }) => {
    await record(page, 'Shown after taring', '0')
    await expect(field(page, 'Net mass shown')).toBeFocused()
    const sent: number[] = []
    await context.route('**/api/v1/runs/*/facts*', async (route) => {
      sent.push(Date.now())
      if (sent.length > 1) return route.continue()
      await route.fulfill({
        status: 429,
        headers: { 'Retry-After': '4' },
        contentType: 'application/problem+json',
        body: JSON.stringify({ title: 'Too Many Requests', status: 429, detail: 'slow down' }),
      })
    })
    await page.keyboard.type('5.0913')
    await page.keyboard.press('Enter')
    await expect(page.getByText('“weighed 5.0913 g” is kept here and sent again. Slow down.')).toBeVisible()
    await expect(page.getByText('0.28 % under')).toBeVisible()
    await expect(page.getByText('is kept here')).toBeHidden()
    expect(sent[1]! - sent[0]!).toBeGreaterThan(3900)
  })

  test('a reading kept over a reload that is then refused: the reason is said, and it is gone', async ({
    page,
    context,
  }) => {
    await record(page, 'Shown after taring', '0')
    await expect(field(page, 'Net mass shown')).toBeFocused()
    await context.route('**/api/v1/runs/*/facts*', (route) => route.abort())
    await page.keyboard.type('5.0912')
    await page.keyboard.press('Enter')
    await expect(page.getByText('No connection. 1 reading is kept here')).toBeVisible()
    await context.unroute('**/api/v1/runs/*/facts*')
    await context.route('**/api/v1/runs/*/facts*', (route) =>
      route.fulfill({
        status: 422,
        contentType: 'application/problem+json',
        body: JSON.stringify({ title: 'x', status: 422, detail: 'the run is over' }),
      }),
    )
    await page.reload()
    await expect(page.getByRole('alert')).toContainText('A reading kept from before was refused: The run is over')
    await expect(page.getByText('is kept here')).toBeHidden()
    expect(
      await page.evaluate(() => Object.keys(localStorage).filter((k) => k.startsWith('vialbench-outbox '))),
    ).toEqual([])
  })

  test('two tabs without a network: both readings are kept, and both go on record', async ({ page, context }) => {
    const other = await context.newPage()
    await other.goto('/today')
    await begin(other)
    await context.route('**/api/v1/runs/*/facts*', (route) => route.abort())
    for (const [tab, note] of [
      [page, 'kept in the first tab'],
      [other, 'kept in the second tab'],
    ] as const) {
      await tab.getByLabel('Note for the record').fill(note)
      await tab.getByRole('button', { name: 'Add the note' }).click()
    }
    for (const tab of [page, other])
      await expect(tab.getByText('No connection. 2 readings are kept here and go on record')).toBeVisible()
    await context.unroute('**/api/v1/runs/*/facts*')
    await expect(page.getByText('kept in the first tab')).toBeVisible({ timeout: 30_000 })
    await expect(other.getByText('kept in the second tab')).toBeVisible({ timeout: 30_000 })
    for (const tab of [page, other]) await expect(tab.getByText('No connection')).toBeHidden()
    await page.goto('/logbook')
    for (const note of ['kept in the first tab', 'kept in the second tab'])
      await expect(page.getByRole('row').filter({ hasText: note })).toHaveCount(1)
    await other.close()
  })
})

test('taken back after the end: the bottle is void, and its run says so', async ({ page }) => {
  await weigh(page, '5.0918')
  await expect(page.getByText('0.27 % under')).toBeVisible()
  await page.keyboard.press('1')
  await toTheLabel(page)
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: /^concentration: 0\.09974/ })).toBeVisible()
  await page.getByRole('button', { name: 'Weighed 5.0918 g' }).click()
  const line = page.getByRole('listitem').filter({ hasText: 'Weighed 5.0918 g' }).last()
  await line.getByRole('button', { name: 'Take back' }).click()
  await line.getByLabel('Why').fill('another vessel')
  await line.getByRole('button', { name: 'Take it back' }).click()
  await expect(page.getByText('What this run made is void')).toBeVisible()
  await page.getByRole('link', { name: 'The bottle' }).click()
  await expect(page.getByText(/No longer on the shelf: void/)).toBeVisible()
  await expect(page.getByRole('link', { name: 'Print the label' })).toBeHidden()
})

test('one’s own password, and what was changed', async ({ page, browser, lab }) => {
  const here = await another(browser, lab.server.url, 'thorne')
  await here.goto('/setup/history')
  await here.getByRole('button', { name: /On the record/ }).click()
  await here.getByRole('button', { name: 'Change your password…' }).click()
  const change = async (now: string, next: string) => {
    await here.getByLabel('Your password now').fill(now)
    await here.getByLabel('The new one').fill(next)
    await here.getByRole('button', { name: 'Change it' }).click()
  }
  await change('pond-water-week', 'password123')
  await expect(here.getByText('this is one of the passwords that are tried first')).toBeVisible()
  await change('pond-water-week', 'duckweed on tuesday')
  await expect(here.getByLabel('Your password now')).toBeHidden()
  await expect(here.getByRole('row').filter({ hasText: 'account Imani Thorne' }).first()).toContainText(
    /password:\s*changed/,
  )
  await here.getByRole('button', { name: /On the record/ }).click()
  await here.getByRole('button', { name: 'Change your password…' }).click()
  await change('duckweed on tuesday', 'pond-water-week')
  await expect(here.getByLabel('Your password now')).toBeHidden()
  await here.context().close()
})

test('a device whose clock is three hours fast: it is said once, and the server’s time goes on record', async ({
  page,
}) => {
  await page.clock.setSystemTime(Date.now() + 3 * 3600_000)
  await page.reload()
  const notice = page.getByText('The clock of this device is about 3 hours fast.')
  await expect(notice).toBeVisible()
  await page.getByRole('button', { name: 'Understood' }).click()
  await expect(notice).toBeHidden()
  await page.getByLabel('Note for the record').fill('at the right time')
  await page.getByRole('button', { name: 'Add the note' }).click()
  await expect(page.getByRole('listitem').filter({ hasText: 'at the right time' })).toBeVisible()
  await page.reload()
  await expect(page.getByRole('listitem').filter({ hasText: 'at the right time' })).toBeVisible()
  await expect(notice).toBeHidden()
  await expect(page.getByText('recorded', { exact: true })).toBeHidden()
})
