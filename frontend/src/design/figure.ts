import type { Figure } from '@/api/client'

/** How far a figure is known; one without uncertainty was stated so. */
export const spread = (figure: Figure) => (figure.uText === '0' ? 'exact' : `±\u00a0${figure.uText}`)
