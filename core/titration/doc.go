// Package titration turns readings of a burette into a concentration: it standardises what is
// in the burette against a known sample, or determines what is in the flask.
//
// With ν(A) mol of the analyte for ν(T) mol of the titrant (package reaction), a titre
//
//	V = Σ (last reading − first reading) − blank
//
// gives the amounts
//
//	n(T) = c(T)·V,  n(A) = ν(A)/ν(T)·n(T)
//
// and so, of an aliquot V(A) or of a mass m with the part P pure and of molar mass M,
//
//	c(A) = ν(A)/ν(T) · c(T)·V / V(A)                 what is in the flask
//	c(T) = ν(T)/ν(A) · c(A)·V(A)/V  or  ν(T)/ν(A) · m·P/(M·V)   what is in the burette
//
// Each trial gives one; the result is the mean of those that agree. What they share, like the
// tolerance of the burette, stays one error (package uncertain); two readings and the drop at
// the end point are errors of each trial.
//
// What runs in is read on a burette, a graduated pipette or a syringe, or counted in drops whose
// volume is known (package droptip). Two end points of one sample tell carbonate from what stands
// beside it (type Pair); a reagent may be added in excess and its rest titrated (type Back).
//
// Trials of unequal samples are compared by the titre that each would have had with the sample
// of the first:
//
//	V′ = V · sample(1)/sample
//
// They agree when the largest set of V′ lies within a limit (0.10 mL, common practice). The
// rough one, and those that were set aside, are left out. Tests of outliers only advise, of four
// trials and more that do not all agree: Dixon's r10 (Rorabacher, Anal. Chem. 63 (1991) 139) and
// Grubbs' G by Student's t, both two-sided at 95 %.
package titration
