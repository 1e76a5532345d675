// Package curve predicts and reads titration curves: pH against what was added.
//
// Prediction is the full balance of package equilibrium for what is in the flask and what came
// out of the burette, volumes taken to be additive. Of an analyte of which each molecule gives
// off or takes up protons one after the other, the k-th equivalence lies at
//
//	V(k) = k·n(A)/c(T)
//
// Strong acid beside it, as where it was fully protonated first, takes n(acid)/c(T) of a base more
// (type Protonate). The titrant is read on a burette or counted in drops (package droptip).
//
// An indicator shows its end point where its colour turns, at its pKa; how far that lies from the
// equivalence is its systematic error.
//
// A measured curve is read in four ways: by its slope, from quadratics through five neighbouring
// points each, so that uneven steps do not matter (A. Savitzky, M. J. E. Golay, Anal. Chem. 36
// (1964) 1627, for even ones); by the lines of Gran (Analyst 77 (1952) 661),
//
//	V·10^(−pH) = K·(Ve − V)          before the equivalence of a weak acid
//	(V0 + V)·10^(pH) ∝ V − Ve        after it
//
// by the pH half way between equivalences; and by a fit of the whole balance to all points, with
// the covariance of what it finds (package leastsquares).
package curve
