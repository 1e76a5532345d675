// Package photometry judges a calibration line of absorbances over concentrations, and reads unknowns from it.
//
// # The line
//
// Readings A of standards c are fitted by A = a + b·c and, beside it, by A = b·c (least squares, all readings alike):
//
//	b = S(cA)/S(cc),  a = Ā − b·c̄,  s² = Σ(A − a − b·c)²/(n − 2)
//
// with the standard errors, leverages h = 1/n + (c − c̄)²/S(cc) and studentised residuals r/(s₍ᵢ₎·√(1 − h)), of which s₍ᵢ₎
// leaves the reading itself out. Through zero, b = ΣcA/Σc² with n − 1 degrees of freedom. Curvature is a quadratic term
// with its F; where concentrations were read more than once, lack of fit is compared with their own scatter.
//
// # Errors of the concentrations
//
// Standards of one stock share its error. With the covariance C of the concentrations and s² of the readings,
//
//	V = s²·1 + b²·C,   ĉ = c + b·C·V⁻¹·r,   [1 ĉ]ᵀ V⁻¹ (A − a − b·c) = 0
//
// is solved by iteration: the minimum of rᵀV⁻¹r, which is York's solution where C is diagonal. Its parameters have the
// covariance ([1 ĉ]ᵀV⁻¹[1 ĉ])⁻¹.
//
// # Unknowns
//
// The mean A₀ of m readings gives c₀ = (A₀ − a)/b within t·s/b·√(1/m + 1/n + (A₀ − Ā)²/(b²·S(cc))), to first order, and by
// Fieller between the roots of (A₀ − a − b·c)² = t²·var(A₀ − a − b·c). Where the slope is not known well enough those are no
// interval, and that is said. By the slope alone, c₀ = A₀/b through zero.
//
// Limits are 3.3·s/b (detection) and 10·s/b (quantification), with s of the residuals (ICH Q2).
//
// Concentrations are in one unit, whichever; absorbances are decadic.
//
// Sources: NIST/SEMATECH e-Handbook 4.1.4.1, 2.3.6.7; E. C. Fieller, J. R. Stat. Soc. B 16 (1954) 175; D. York et al., Am. J.
// Phys. 72 (2004) 367; ISO 8466-1; ICH Q2(R1); all from memory.
package photometry
