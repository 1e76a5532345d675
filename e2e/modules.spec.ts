import { expect, test } from '@playwright/test'
import { questionOf as calibrationOf, typedQuestion as calibration } from '../frontend/src/areas/meters/question'
import {
  linesFor,
  paired,
  questionOf as mixtureOf,
  settle,
  shared,
  typedQuestion as mixture,
} from '../frontend/src/areas/mixtures/question'
import { needsDensity, needsReaction, typedQuestion } from '../frontend/src/areas/standards/question'
import { tint } from '../frontend/src/areas/dilutions/tint'
import { asTyped, fromLink, isBack, questionOf } from '../frontend/src/areas/titrations/question'
import {
  questionOf as bufferOf,
  typedQuestion as bufferTyped,
  type LabGiven,
} from '../frontend/src/areas/buffers/question'
import { columnsOf, letters, mostResults, readColumns, readResults } from '../frontend/src/areas/sessions/paste'
import { levelOf, shortDay, wordsOf } from '../frontend/src/areas/stockroom/article'
import type { Article, Bottle, LabGlass, PastLine } from '../frontend/src/api/client'
import { pieceChoices, sizeChoices } from '../frontend/src/bench/glass'
import { held } from '../frontend/src/bench/held'
import { labelsOf } from '../frontend/src/bench/labels'
import { readable } from '../frontend/src/areas/absorbance/question'
import { learn, now } from '../frontend/src/api/clock'
import { newId } from '../frontend/src/api/id'
import { latest } from '../frontend/src/api/latest'
import { setSpecies } from '../frontend/src/design/species'
import { signed } from '../frontend/src/api/figures'
import { day, when } from '../frontend/src/design/time'

// Modules of the front end as they are, without a page.

test('a link brings what can stand in a field, and nothing else', () => {
  expect(fromLink({})).toBeUndefined()
  expect(fromLink({ page: '2' })).toBeUndefined()
  const typed = fromLink({ volume: '10', device: 'teapot', by: 'cylinder', note: 'x'.repeat(501), constructor: 'y' })!
  expect(typed).toEqual({ ...asTyped, volume: '10', by: 'cylinder' })
  expect(fromLink({ volume: ['1', '2'] })).toBeUndefined()
})

test('a titration asks for the fields of its way', () => {
  const question = questionOf({ ...asTyped, name: ' pond ', diluted: '10' }, 20)
  expect(question).toMatchObject({
    standardise: true,
    by: 'pipette',
    volume: '25',
    name: 'pond',
    diluted: 0,
    burette: '50',
  })
  const weighed = questionOf(
    { ...asTyped, aim: 'determine', by: 'weighed', diluted: '10', device: 'drops', tip: '' },
    21,
  )
  expect(weighed).toMatchObject({
    standardise: false,
    mass: '0.5',
    diluted: '10',
    device: 'drops',
    drop: '0.05',
    celsius: 21,
  })
  expect(weighed).not.toHaveProperty('volume')
  expect(weighed).not.toHaveProperty('burette')
  const back = { ...asTyped, aim: 'determine' as const, way: 'back' as const, backEquation: 'A -> B', reagent: '' }
  expect(isBack(back)).toBe(true)
  expect(isBack({ ...back, aim: 'standardise' })).toBe(false)
  expect(questionOf(back, 20)).toMatchObject({ backEquation: 'A -> B', reagent: 0, sampleBottle: '' })
})

test('a solid that is made up states its flask, and no bottle; a piece of glass its mark', () => {
  const solid = {
    ...asTyped,
    aim: 'determine' as const,
    sampleIs: 'solid' as const,
    sampleBottle: 'b1',
    density: '1.1',
  }
  const question = questionOf({ ...solid, substance: 'khp', mass: '5.1', burette: '50 B 12' }, 20)
  expect(question).toMatchObject({
    dissolved: { mass: '5.1', flask: '250' },
    substance: 'khp',
    volume: '25',
    burette: '50',
    mark: 'B 12',
    density: 0,
  })
  expect(question).not.toHaveProperty('sampleBottle')
  expect(question).not.toHaveProperty('mass')
  expect(questionOf({ ...solid, aim: 'standardise' }, 20)).not.toHaveProperty('dissolved')
  expect(questionOf({ ...solid, by: 'weighed' }, 20)).not.toHaveProperty('dissolved')
  expect(questionOf(asTyped, 20)).not.toHaveProperty('mark')
})

test('glass is offered by its sizes, and pieces with a mark by that', () => {
  const glass = [
    ['burette', 50, ''],
    ['burette', 50, 'B 1'],
    ['burette', 25, 'B 2'],
    ['volumetric flask', 250, 'F 1'],
  ].map(([kind, volume, mark]) => ({ item: { kind, volume, mark } }) as LabGlass)
  expect(sizeChoices(glass, 'burette').map(([v]) => v)).toEqual(['25', '50'])
  expect(pieceChoices(glass, 'burette')).toEqual([
    ['25 B 2', '25 mL, B 2'],
    ['50', '50 mL'],
    ['50 B 1', '50 mL, B 1'],
  ])
  expect(pieceChoices([], 'syringe')[0]).toEqual(['1', '1 mL'])
  expect(sizeChoices([], 'volumetric flask').at(-1)).toEqual(['1000', '1000 mL'])
})

test('a bottle of a list is found by what it holds, and read as a standard where that is per litre', () => {
  const figure = (id: string, role: string, unit: string) => ({ id, role, unit })
  const bottle = (state: string, concentration: object, ...figures: object[]) =>
    ({ state, concentration, figures }) as unknown as Bottle
  const perLitre = figure('c', 'concentration', 'mg/L P')
  const buffer = bottle('shelf', perLitre, figure('pH', 'pH', ''), figure('acid', 'concentration', 'mmol/L'))
  expect(held(buffer, 'concentration').map((f) => f.id)).toEqual(['c', 'acid'])
  expect(held(buffer, 'pH').map((f) => f.id)).toEqual(['pH'])
  expect(held(buffer, 'slope')).toEqual([])
  const perKilogram = figure('m', 'concentration', 'mol/kg')
  const list = [
    buffer,
    bottle('discarded', perLitre),
    bottle('shelf', perKilogram),
    bottle('shelf', perKilogram, perLitre),
  ]
  expect(readable(list)).toEqual([list[0], list[3]])
})

test('a row of buffers by volumes is read tube by tube', () => {
  const lab = { settings: { thresholds: {} }, glass: [], bottles: [], substances: [], systems: [] } as unknown
  const of = (mixes: string) => bufferOf({ ...bufferTyped(), mixes }, lab as LabGiven).mixes
  expect(of(' 5 + 1  4+2;0,5+3 ')).toEqual([
    { acid: '5', base: '1' },
    { acid: '4', base: '2' },
    { acid: '0,5', base: '3' },
  ])
  expect(of('5')).toEqual([{ acid: '5', base: '' }])
  expect(of('')).toEqual([])
})

test('labels are asked for by bottle and paper', () => {
  expect(labelsOf(['a', 'b'], 'vial', 3, 2)).toBe('/api/v1/labels?bottle=a&bottle=b&paper=vial&start=3&copies=2')
  expect(labelsOf(['a'], 'label')).toBe('/api/v1/labels?bottle=a&paper=label&start=1&copies=1')
})

test('a standard asks for a density or a reaction where its basis takes one', () => {
  const of = (concentration: string) => ({ ...typedQuestion(), concentration })
  for (const [text, density, reaction] of [
    ['0.1 mol/L', false, false],
    ['5 % w/w', true, false],
    ['0.5 mol/kg', true, false],
    ['0.1 eq/L', false, true],
    ['0.1 N', false, true],
    ['0.1N', false, true],
    ['9 g/L', false, false],
  ] as const)
    expect([text, needsDensity(of(text)), needsReaction(of(text))]).toEqual([text, density, reaction])
  expect(needsDensity({ ...of('0.1 mol/L'), makeUp: 'mass' })).toBe(true)
})

test('a calibration names its buffers, those of one’s own with their value', () => {
  const library = [{ key: 'borax', name: 'borax', table: [], limits: '0.01' }]
  const typed = { ...calibration(), buffers: ['borax', 'own', 'gone', '', ''], low: '6', high: '9' }
  typed.opened[0] = '2026-05-01'
  typed.own[1] = { name: 'ours', pH: '7.02', celsius: '20', limits: '0.03' }
  expect(calibrationOf(typed, library as never, '21')).toEqual({
    celsius: '21',
    low: '6',
    high: '9',
    buffers: [
      { key: 'borax', name: 'borax', table: [], limits: '0.01', opened: '2026-05-01' },
      { key: '', name: 'ours', table: [{ celsius: '20', pH: '7.02' }], limits: '0.03', opened: '' },
    ],
  })
})

test('formulas in a sentence are set, words are not', () => {
  const plain = (text: string) =>
    setSpecies(text)
      .map((p) => (p.style ? `<${p.style} ${p.text}>` : p.text))
      .join('')
  expect(plain('Na2CO3 and Fe^2+ in water')).toBe('Na<sub 2>CO<sub 3> and Fe<sup 2+> in water')
  expect(plain('(NH4)2SO4 gives NH4+')).toBe('(NH<sub 4>)<sub 2>SO<sub 4> gives NH<sub 4><sup +>')
  expect(plain('I was in CO at No 10')).toBe('I was in CO at No 10')
  expect(plain('C2O4^2-')).toBe('C<sub 2>O<sub 4><sup 2−>')
})

test('ids are of version 7 and rise with time; late answers are told', () => {
  const id = newId()
  expect(id).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-7[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/)
  expect(Math.abs(Number.parseInt(id.replace('-', '').slice(0, 12), 16) - Date.now())).toBeLessThan(5000)
  expect(newId()).not.toBe(id)
  const asked = latest()
  const first = asked()
  expect(first()).toBe(true)
  const second = asked()
  expect([first(), second()]).toEqual([false, true])
  expect([first.signal.aborted, second.signal.aborted]).toEqual([true, false])
})

test('the blank has no tint, and each decade a fainter one', () => {
  expect(tint(0)).toBe(0)
  expect(tint(1)).toBeCloseTo(0.8)
  expect(tint(10)).toBeCloseTo(0.65)
  expect(tint(1e9)).toBe(0.06)
})

test('the time is that of the server, where this device is off by more than seconds', () => {
  globalThis.sessionStorage ??= { getItem: () => '1' } as unknown as Storage // it was said before
  const answer = (at: number) => new Response('', { headers: { Date: new Date(at).toUTCString() } })
  learn(answer(Date.now() - 3_600_000), Date.now())
  expect(Math.abs(now().getTime() - (Date.now() - 3_600_000))).toBeLessThan(1500)
  learn(answer(Date.now() - 5_000_000), Date.now() - 2500) // it took too long to say anything
  expect(Math.abs(now().getTime() - (Date.now() - 3_600_000))).toBeLessThan(1500)
  learn(answer(Date.now()), Date.now())
  expect(Math.abs(now().getTime() - Date.now())).toBeLessThan(50)
})

test('days are told as people say them', () => {
  const noon = new Date()
  noon.setHours(12, 5, 0, 0)
  expect(when(noon.toISOString())).toBe('today 12:05')
  const before = new Date(noon)
  before.setDate(noon.getDate() - 1)
  expect(when(before.toISOString())).toBe('yesterday 12:05')
  expect(when('2026-02-03T08:09:00Z')).toMatch(/^2026-02-03 \d\d:09$/)
  expect(day('2026-02-03T12:00:00Z')).toBe('2026-02-03')
})

test('the bar of an article has its parts in their right lengths', () => {
  const of = (usable: number, planned: number, minimum: number) =>
    levelOf({ standing: { usable, planned }, article: { minimum } } as Article)
  expect(of(100, 0, 20)).toEqual({ usable: 1, planned: 0, minimum: 0.2, short: 0 })
  expect(of(100, 40, 0)).toEqual({ usable: 1, planned: 0.4, minimum: 0, short: 0 })
  expect(of(30, 60, 0)).toEqual({ usable: 0.5, planned: 0.5, minimum: 0, short: 0.5 })
  expect(of(5, 0, 80)).toEqual({ usable: 0.05, planned: 0, minimum: 0.8, short: 0 })
  expect(of(0, 0, 0)).toEqual({ usable: 0, planned: 0, minimum: 0, short: 0 })
})

test('what is said of a container', () => {
  const of = (place: string, opened: string, expires: string) =>
    wordsOf({ place, opened, expires } as Article['containers'][number], '2026-12-01')
  expect(of('drawer 5', '', '2026-11-30')).toBe('drawer 5, not opened, expired 2026-11-30')
  expect(of('', '2026-11-01', '2026-12-01')).toBe('opened 2026-11-01, expires 2026-12-01')
  expect(shortDay('2026-12-04')).toBe('Fri 4 Dec')
})

test('results that are pasted are read line by line, and what cannot be read says so of its line', () => {
  const read = (text: string) => readResults(text).map((l) => l.wrong || `${l.group}: ${l.stated}`)
  expect(
    read('Group\tResult\r\n1\t0.1023\r\nGroup 2\t0,0998\r\n\r\n"3";"98 mmol/L"\n4, 0.101\n5 = 0.1 mol/L\tnote'),
  ).toEqual(['1: 0.1023', '2: 0,0998', '3: 98 mmol/L', '4: 0.101', '5: 0.1 mol/L'])
  expect(read('1 0.1\nthe second 0.2\n1 0.3')).toEqual([
    '1: 0.1',
    'write the number of the group, then its result, like “3  0.1023”',
    'group 1 has a result already in a line above',
  ])
  const many = read(Array.from({ length: 10_000 }, (_, i) => `${i + 1}\t0.1`).join('\n'))
  expect(many.length).toBeLessThan(mostResults + 10)
  expect(many[mostResults]).toBe('a class has at most 60 groups')
  expect(read('')).toEqual([])
})

test('columns of a file are guessed by their names, and what cannot be read is said of its cell', () => {
  const rows = [
    ['Date', 'Pair', 'Titre (mL)', 'Result (mmol/L)', 'Note'],
    ['2026-11-17', 'Pair 1', '12.4', '61.2', ''],
    ['2026-11-17', '2', '12.5', '0.0613 mol/L', 'late'],
    [],
    ['2026-11-17', 'us', '12.3', '61'],
    ['2026-11-17', '2', '12.3', '61'],
    ['2026-11-17', '4', '12.3'],
  ]
  const columns = columnsOf(rows)
  expect(columns).toEqual({ group: 1, result: 3, unit: 'mmol/L', headed: true })
  expect(readColumns(rows, columns).map((l) => `${l.line} ` + (l.wrong || `${l.group}: ${l.stated}`))).toEqual([
    '2 1: 61.2 mmol/L',
    '3 2: 0.0613 mol/L',
    '5 cell B5: “us” has no number of a group',
    '6 cell B6: group 2 has a result already in a row above',
    '7 cell D7 is empty: leave the row out, or write a result',
  ])
  expect(readColumns(rows.slice(0, 2), { ...columns, result: 2, unit: '' })[0]!.stated).toBe('12.4')
  // Without names the first columns with figures are taken, and the unit of the task.
  expect(
    columnsOf([
      ['1', '0.0612'],
      ['2', '0.0598'],
    ]),
  ).toEqual({ group: 0, result: 1, unit: '', headed: false })
  expect(
    columnsOf([
      ['Group', 'c, mol/L'],
      ['1', '0.1'],
    ]),
  ).toEqual({ group: 0, result: 1, unit: 'mol/L', headed: true })
  expect(columnsOf([])).toEqual({ group: 0, result: 0, unit: '', headed: false })
  const many = readColumns(
    Array.from({ length: 500 }, (_, i) => [String(i + 1), '0.1']),
    { group: 0, result: 1, unit: 'mol/L', headed: false },
  )
  expect(many.length).toBeLessThan(mostResults + 10)
  expect(many[0]!.stated).toBe('0.1 mol/L')
  expect(many[mostResults]!.wrong).toBe('a class has at most 60 groups')
  expect([0, 25, 26, 59].map(letters)).toEqual(['A', 'Z', 'AA', 'BH'])
})

test('two substances go with each other where both have lines at the same two wavelengths', () => {
  const line = (run: string, substance: string, wavelength: number, path = 10): PastLine => ({
    run,
    number: 1,
    title: '',
    says: '',
    unit: 'mg/L',
    substance,
    wavelength,
    path,
  })
  const lines = [
    line('a', 'Red', 560), // the newest
    line('b', 'Red', 590),
    line('c', 'Blue', 590),
    line('d', 'Blue', 560),
    line('e', 'Red', 560),
    line('f', 'Green', 560),
    line('g', 'Green', 590, 50),
    line('h', 'Red', 700),
  ]
  const [red, blue, green] = ['Red, mg/L', 'Blue, mg/L', 'Green, mg/L']
  expect(shared(lines, red, blue)).toEqual([560, 590])
  expect(shared(lines, red, green)).toEqual([560])
  expect(paired(lines)).toEqual([red, blue])
  expect(paired(lines, blue)).toEqual([red])
  expect(paired(lines.slice(5))).toEqual([])
  const t = mixture()
  settle(t, lines)
  expect([t.first, t.second, ...t.at]).toEqual([red, blue, '560', '590'])
  expect(linesFor(lines, t).map((l) => l.run)).toEqual(['a', 'b', 'd', 'c'])
  t.at = ['590', '590']
  settle(t, lines)
  expect(t.at).toEqual(['590', '560'])
  t.samples = [
    { name: ' Ditch ', diluted: '' },
    { name: ' ', diluted: '3' },
    { name: 'Race', diluted: '4' },
  ]
  expect(mixtureOf(t, lines)).toEqual({
    lines: ['b', 'a', 'c', 'd'],
    samples: [{ name: 'Ditch' }, { name: 'Race', diluted: '4' }],
    replicates: '1',
  })
  settle(t, [])
  expect([t.first, t.second, ...t.at]).toEqual(['', '', '', ''])
  expect(linesFor([], t)).toEqual([])
})

test('an error of a class has its sign, and none where it rounds to nothing', () => {
  expect([0.04, -0.04, 0, 0.05001, -0.06, -90, undefined].map((x) => signed(x))).toEqual([
    '0.0',
    '0.0',
    '0.0',
    '+0.1',
    '−0.1',
    '−90.0',
    '',
  ])
  expect(signed(1.26, '')).toBe('1.3')
})
