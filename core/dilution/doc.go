// Package dilution plans dilutions: one step, series side by side, chains, and the
// choice of glass for them.
//
// A volume V₁ of a stock of concentration c₁, made up to V₂, gives
//
//	c₂ = c₁·V₁/V₂ = c₁/F        F = V₂/V₁, the dilution factor
//
// and a chain the product of its factors. "1 in 20" and "1 + 19" are F = 20; "1:20"
// is read as one part in twenty by most and as one part and twenty parts by some,
// which is F = 21: a lab chooses, and what was read is always said.
//
// Volumes delivered and contained are those of package glassware at 20 °C, each
// with its sources: glass that is used twice makes the same error twice, while
// setting a meniscus and reading a scale are new every time. The stock has one
// temperature and the solvent another, each within its limits; a liquid that was
// made up is taken on at the temperature of the solvent.
//
// [Routes] finds the ways of reaching a factor with the pipettes and flasks at hand
// by an exact search: every multiset of steps whose factors multiply to the one
// wanted, with branches cut where the smallest factor still to come is too large.
// The relative variance that ranks them counts the tolerance of a glass used n times
// as n², and what is new every time as n:
//
//	(u/c)² ≈ Σ_glass (n·u_tolerance/V)² + Σ_uses (u_setting/V)²
//
// Sources: ISO 648, 835, 385, 1042 through package glassware; JCGM 100 5.1.2, 5.2.2.
package dilution
