// Package buffer designs buffers, has them made at the bench and brought to their pH, and
// says why one came out where it did.
//
// A [Recipe] is a pair of ingredients, two forms of one system, or one form and a strong
// acid or base. What is taken of each follows from the full balance of package
// equilibrium: the composition is sought at which the balance gives the pH wanted at the
// temperature of use. Beside it stands the estimate by Henderson and Hasselbalch,
//
//	pH = pKa + log([base]/[acid])
//
// which leaves out the activity of the ions, the other steps, and what water itself takes.
//
// A [Request] is a run.Plan: solids and stocks in, to about 40 %, mix, pH, adjust, to the
// mark, pH again, label. A row of buffers is one request with several targets.
//
// At the bench, the acid or base still to be added is calculated from the reading:
//
//	n = (b(goal) − b(read))·V
//
// with b(pH) the strong base in mol/L that brings the mixture to a pH, and the goal that
// pH that gives the target once the flask is filled. The model is corrected by what
// was read, since both ends are taken from readings, not from the recipe.
package buffer
