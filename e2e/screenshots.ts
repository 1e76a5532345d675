import { begin, expect, makeUp, record, signIn, test, weigh } from './bench'

// The pictures of docs/screenshots, from the sample records.
// Tuesday's class of the sample records.
const tuesday = '019a0000-0000-7000-8000-000000007000'
const shot = (name: string) => ({ path: `../docs/screenshots/${name}.png` })
test.use({ allow: [/401|422/] })

test('pictures of the main views', async ({ page, lab }) => {
  test.setTimeout(180_000)
  await signIn(page)
  await page.goto('/today')
  await expect(page.getByText('Potassium iodate')).toBeVisible()
  await page.screenshot(shot('today'))
  await page.goto('/sessions')
  await page.getByRole('link', { name: 'Hardness of pond water' }).click()
  await expect(page.getByRole('img', { name: /^Schedule of / }).first()).toBeVisible()
  await page.screenshot(shot('session'))
  await page.goto(`/sessions/${tuesday}/class`)
  await page.getByRole('link', { name: 'Results' }).click()
  await expect(page.getByRole('article')).toHaveCount(3)
  await page.screenshot(shot('results'))
  await page.goto('/store')
  await expect(page.getByRole('region', { name: 'To order' })).toBeVisible()
  await page.screenshot(shot('store'))
  await page.goto('/standards')
  await expect(page.getByText('5.1056')).toBeVisible()
  await page.screenshot(shot('standards-question'))
  await begin(page)
  await weigh(page, '5.3102')
  await expect(page.getByText('4 % over')).toBeVisible()
  await page.keyboard.press('1')
  await expect(page.getByText('Weighed 5.3102 g')).toBeVisible()
  await makeUp(page)
  await page.goto('/shelf')
  await expect(page.getByText('0.010000')).toBeVisible()
  await page.screenshot(shot('shelf'))
  await page.getByRole('link', { name: /Disodium EDTA/ }).click()
  await expect(page.getByText('Not classified as hazardous at this strength.')).toBeVisible()
  await page.screenshot(shot('bottle'))
  await page.goto('/logbook')
  await page.getByRole('searchbox').fill('EDTA')
  await expect(page.getByText('digits swapped').first()).toBeVisible()
  await page.getByText('digits swapped').last().scrollIntoViewIfNeeded()
  await page.screenshot(shot('logbook'))

  lab.database.change(`UPDATE balances SET address = '${lab.standin}' WHERE name = 'Fern'`)
  await begin(page)
  await page.getByText('Stand-in balance, by hand').click()
  await page.getByRole('button', { name: 'A vessel on' }).click()
  const balance = page.getByRole('group', { name: 'Balance Fern' })
  await expect(balance.getByText('still moves')).toBeVisible()
  await expect(balance.getByText('stands')).toBeVisible({ timeout: 10_000 })
  await balance.getByRole('button', { name: 'Tare it' }).click()
  await expect(balance.getByText('0.0000 g')).toBeVisible()
  await balance.getByRole('button', { name: 'Take it' }).click()
  await page.getByRole('button', { name: 'Pour', exact: true }).click()
  await expect(balance.getByText('5.1056 g')).toBeVisible()
  await page.waitForTimeout(1500)
  await page.getByRole('button', { name: 'A draught' }).click()
  await expect(balance.getByText('still moves')).toBeVisible()
  await page.waitForTimeout(1000)
  await balance.getByRole('button', { name: 'Take it' }).click()
  await expect(page.getByRole('button', { name: 'Wait until it stands' })).toBeVisible()
  await page.screenshot(shot('run-live-balance'))

  await page.goto('/dilutions')
  await page.getByRole('combobox', { name: 'From', exact: true }).click()
  await page.getByRole('option', { name: /^bottle 3:/ }).click()
  for (const [stage, factor] of [
    [1, '10'],
    [2, '2'],
    [3, '5'],
  ] as const) {
    await page.getByLabel(`Factor of stage ${stage}`).fill(factor)
    await page.keyboard.press('Enter')
  }
  await expect(page.getByText('1 in 100 in all')).toBeVisible()
  await page.mouse.move(0, 0)
  await page.screenshot(shot('dilutions'))

  await page.goto('/buffers')
  await expect(page.getByText('0.7244 g').first()).toBeVisible()
  await page.screenshot(shot('buffers'))
  await page.goto('/capacity')
  await page.getByRole('link', { name: /^Capacity of phosphate buffer/ }).click()
  await expect(page.getByRole('img', { name: 'Buffer capacity of each step, on theory' })).toBeVisible()
  await page.screenshot(shot('capacity'))

  lab.database.change("UPDATE balances SET address = ''") // typed
  await page.goto('/titrations')
  for (const [label, option] of [
    ['Titration', 'Permanganate against oxalate'],
    ['Sample taken', 'weighed'],
    ['Solid', 'Sodium oxalate'],
  ] as const) {
    await page.getByRole('combobox', { name: label, exact: true }).focus()
    await page.keyboard.press('Enter')
    await page.getByRole('option', { name: option }).click()
  }
  await page.getByLabel('About, g each').fill('0.15')
  await page.getByRole('button', { name: /Take it to the bench/ }).click()
  await page.getByRole('button', { name: 'Rinsed three times' }).click()
  for (const [mass, from, to] of [
    ['0.1512', '0.20', '23.45'],
    ['0.1483', '0.35', '22.70'],
    ['0.1507', '0.15', ''],
  ] as const) {
    const type = async (label: string, text: string) => {
      await expect(page.getByLabel(label, { exact: true })).toBeFocused()
      await page.keyboard.press('ControlOrMeta+a')
      await page.keyboard.type(text)
      await page.keyboard.press('Enter')
    }
    await type('Net mass shown', mass)
    await expect(page.getByText(/read the burette before it begins/)).toBeVisible()
    await type('Burette', from)
    await expect(page.getByText(/run it in, and read when you stop/)).toBeVisible()
    if (!to) break
    await type('Burette', to)
    await page.getByRole('button', { name: 'That was the end point' }).click()
  }
  await page.screenshot(shot('titration'))
  await page.goto('/curves')
  await page.getByRole('link', { name: /^Curve of potassium/ }).click()
  await expect(page.getByRole('tab', { name: 'Off the curve' })).toBeVisible()
  await page.screenshot(shot('titration-curve'))

  await page.goto('/absorbance')
  await page.getByRole('link', { name: 'Phosphate as molybdate blue at 880 nm' }).click()
  await expect(page.getByRole('img', { name: /^Absorbance at 880 nm/ })).toBeVisible()
  await page.screenshot(shot('absorbance'))
  await page.goto('/scans')
  await page.getByRole('link', { name: /^Scan of molybdate blue/ }).click()
  await expect(page.getByRole('img', { name: 'Absorbance over the wavelength' })).toBeVisible()
  await page.screenshot(shot('scan'))
  await page.goto('/mixtures')
  await page.getByRole('link', { name: 'Alder red and pond blue beside each other' }).click()
  await expect(page.getByRole('img', { name: /^Stream above the weir/ })).toBeVisible()
  await page.screenshot(shot('two-substances'))

  await page.goto('/meters')
  await expect(page.getByRole('cell', { name: '9.21' })).toBeVisible()
  await page.screenshot(shot('meters'))
  const id = lab.database.sql("SELECT id FROM meters WHERE name = 'Heron'")
  const hand = (data: object) => page.request.post(`/api/v1/meters/${id}/standin`, { data })
  await page.getByRole('button', { name: 'Take it to the bench' }).click()
  await page.getByRole('button', { name: 'It stood wet' }).click()
  for (const buffer of ['phosphate', 'phthalate']) {
    await hand({ do: 'RINSE' })
    await page.getByRole('button', { name: 'The probe is in' }).click()
    const meter = page.getByRole('group', { name: 'pH meter Heron' })
    await expect(meter.getByRole('button', { name: 'Take it' })).toBeVisible()
    await page.waitForTimeout(500)
    await hand({ into: `${buffer} 21.4` })
    if (buffer === 'phthalate') break
    await page.waitForTimeout(2000)
    await expect(meter.getByText('has settled')).toBeVisible({ timeout: 30_000 })
    await meter.getByRole('button', { name: 'Take it' }).click()
  }
  await expect(page.getByText(/goes to 17\d/)).toBeVisible()
  await page.waitForTimeout(2500)
  await page.screenshot(shot('calibration-live'))
})
