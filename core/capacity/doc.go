// Package capacity measures the capacity of a buffer: acid or base is added to a beaker in
// portions, the pH is read after each, and water stands beside it.
//
// Of the step from one reading to the next,
//
//	β = f·c·Δv / (V̄·|ΔpH|)
//
// with c the strength of what is added, Δv the portion and V̄ the volume half way, so that
// the dilution is counted. f is how many protons each molecule of a weak acid or base gives
// off or takes up at that pH, by its own balance; of a strong one of one proton it is 1.
//
// Theory is the full balance of package equilibrium for the same beaker, volumes taken to be
// additive. A fit of that balance to all readings of a buffer finds how strong it is beside
// what its label says, and by how much the meter is off:
//
//	pH(i) = pHtheory(f·c₀, v(i)) + d
//
// by least squares (Gauss and Newton), with the covariance of f and d from the residuals.
// The capacity to one pH is the amount for each litre that moves the pH by one from where
// it began, between the two readings around it by a straight line.
//
// What is added may be of unknown strength, like a soft drink: its strength as an acid is
// found from the same balance first.
//
// Further beakers of the same batch are diluted with water, or warmed and cooled: the pH before
// and after stands beside theory, and the colour of an indicator that was seen beside the one
// expected.
package capacity
