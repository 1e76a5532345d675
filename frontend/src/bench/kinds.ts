import type { Component } from 'vue'
import type { Plan, Run } from '@/api/client'

/** Of a run: what stands under its title, beside its sheet, and when it has ended. */
export interface RunParts {
  Head: Component
  Side: Component
  Ended: Component
}

/** One kind of work, as its area presents it. What all kinds share asks this registry;
 * nothing outside an area names a kind. */
export interface Kind {
  name: Plan['kind']
  /** Place in the order of the work. */
  place: number
  path: string
  label: string
  /** The area that it shares with others, and its name among their tabs. */
  area?: { name: string; tab: string }
  group: 'Prepare' | 'Measure' | 'Teach'
  /** The key that opens its page, and what that does. */
  key: string
  does: string
  /** The button that begins it, on Today. */
  begin: string
  /** What a finished run is called in lists. */
  finished: string
  page: () => Promise<Component>
  /** How a run is shown, loaded with the first one. */
  run: () => Promise<{ parts: RunParts }>
  /** What is measured fills the page, and the sheet stands beside it; else the sheet does. */
  measured?: boolean
  /** The figure that a run is about, by its ID. */
  mainFigure: (run: Run) => string
}

const found = import.meta.glob<{ kind: Kind }>('../areas/*/kind.ts', { eager: true })

export const kinds = Object.values(found)
  .map((module) => module.kind)
  .sort((a, b) => a.place - b.place)

/** The kinds of an area, in their order: those that share its name, or the one alone. */
export const sharing = (kind: Kind): Kind[] =>
  kind.area ? kinds.filter((other) => other.area?.name === kind.area!.name) : [kind]

export const kindOf = (name: Plan['kind']): Kind => kinds.find((kind) => kind.name === name)!

/** How a run ended, in a word. */
export const ending = (run: { kind: Plan['kind']; status: 'open' | 'finished' | 'void' }) =>
  ({ open: 'in progress', finished: kindOf(run.kind).finished, void: 'void' })[run.status]
