// Package uncertain provides a number that remembers where its uncertainty
// comes from.
//
// A [Number] is a value together with one signed contribution per source,
//
//	uᵢ(y) = ∂y/∂xᵢ · u(xᵢ)
//
// which is the first-order law of propagation of uncertainty, JCGM 100:2008
// (the GUM), 5.1.2. Two numbers that share a source are correlated by
// construction: their contributions from that source are added with their
// signs before they are squared, GUM 5.2.2 with r = 1. The combined standard
// uncertainty is
//
//	u(y) = √Σ uᵢ(y)²
//
// and the expanded one U = k·u.
//
// k is 2 unless a source has few degrees of freedom, when it is Student's t for the
// effective ones (Welch–Satterthwaite, GUM G.4).
//
// [Simulate] propagates the distributions themselves (JCGM 101:2008) and tells
// whether the first order is enough.
//
// Standard uncertainties from stated limits ±a follow GUM 4.3: a/√3 for a
// rectangular distribution, a/√6 for a triangular one, a/2 for limits that are
// said to hold at 95 %.
package uncertain
