/** How strongly a tube is tinted, by its dilution factor from the stock on: five decades
 * from full to barely seen; 0, the blank, has none. */
export const tint = (factor: number) => (factor > 0 ? Math.max(0.06, 0.8 - 0.15 * Math.log10(factor)) : 0)
