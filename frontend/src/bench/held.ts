import type { Bottle, Figure } from '@/api/client'

/** What a bottle of a list is known by, of one role: the figure that it is named by comes first. */
export const held = (b: Bottle, role: Figure['role']) => [b.concentration, ...b.figures].filter((f) => f.role === role)
