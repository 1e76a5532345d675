// Package absorbance is a calibration line of absorbances as work at the bench: cells matched, a blank, the tubes of a rack
// from dilute to strong, then the unknowns (the plan), and what each of them contains (the outcome). A line can be that of an
// earlier run: then only unknowns are read. What is computed stands in package photometry.
//
// A reading is an absorbance A, or a transmittance T in % with A = 2 − lg T. What counts is
//
//	A = A(shown) − A(blank) − ΔA(cell)
//
// with the blank as it read after the last setting, and the difference of the cell from the first one, both with the blank in
// them. An unknown goes back to its sample by the factor of its dilution, c(sample) = F·c.
//
// The molar absorptivity is ε = b/l, of the slope in L/mol and the path in cm.
package absorbance
