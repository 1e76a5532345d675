// Package droptip finds the volume of the drops that fall from a tip, so that what is counted in
// drops is known in mL. n drops are caught in a vessel on a balance, or in a cylinder:
//
//	v = b·m/(n·ρ)   weighed: m in g, ρ in g/mL, b the buoyancy of the air (package weighing)
//	v = V/n         read on graduated glass, V in mL
//
// Each count gives one; the result is their mean, with the errors of the instrument, which all
// counts share, and with s/√k of k counts. A single count says nothing of constancy, and brings
// the limits of a drop that nobody calibrated.
//
// The size of a drop follows from tip and liquid: it holds for that liquid, from that tip, held
// upright and dripping slowly (common practice; Tate's law m·g = 2πr·γ·f is the reason). Of a tip
// that was never calibrated a drop counts as 0.05 mL ± 5 % (common practice: 20 drops in a mL).
package droptip
