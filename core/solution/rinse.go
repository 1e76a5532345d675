package solution

import "math"

// LeftAfterRinsing returns the fraction of the solute that is still in a vessel
// after n rinses of a volume each, when a residue clings to the walls every time:
// each rinse mixes with the residue, and all but the residue is poured off,
//
//	(r/(r + v))ⁿ
//
// with v and r in the same unit. A mass balance; it takes every rinse to mix well.
func LeftAfterRinsing(n int, volume, residue float64) float64 {
	return math.Pow(residue/(residue+volume), float64(n))
}

// What a funnel and a weighing vessel are usually rinsed with, and what clings to
// them, in mL (common practice).
const (
	usualRinse   = 5.0
	usualResidue = 0.5
)
