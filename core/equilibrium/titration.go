package equilibrium

import (
	"math"

	"vialbench/core/uncertain"
)

// Titration is a mixture to which another one is added. It allocates nothing once it is made.
type Titration struct {
	volume float64 // mL at the start
	solver *Solver
	// Of each system, and of the strong ions, what is there at the start and what is in the titrant.
	start, adds           []float64
	charge, chargeAdds    float64
	squares, squaresAdded float64
}

// Titration begins with so many mL of the mixture.
func (m Mixture) Titration(volume float64, titrant Mixture) *Titration {
	// One solver for all: the systems of both, of which the concentrations are set.
	all := m.Mixed(uncertain.Exact(1), titrant, uncertain.Exact(1))
	t := &Titration{volume: volume, solver: all.solver(m.Celsius.Value)}
	t.start, t.adds = make([]float64, len(all.Amounts)), make([]float64, len(all.Amounts))
	for i, a := range all.Amounts {
		if i < len(m.Amounts) {
			t.start[i] = m.Amounts[i].C.Value
		}
		t.adds[i] = a.C.Value - t.start[i]
	}
	t.charge, t.squares = m.strong()
	t.chargeAdds, t.squaresAdded = titrant.strong()
	return t
}

// At is where the mixture stands after so many mL.
func (t *Titration) At(v float64) Point {
	share := t.volume / (t.volume + v)
	for i := range t.start {
		if !t.solver.parts[i].open {
			t.solver.Set(i, t.start[i]*share+t.adds[i]*(1-share))
		}
	}
	t.solver.SetStrong(t.charge*share+t.chargeAdds*(1-share), t.squares*share+t.squaresAdded*(1-share))
	return t.solver.Solve()
}

// Forms are the parts of a system, by its place in the mixture that was begun with, at the volume that was
// asked for last: by how many protons it has given off.
func (t *Titration) Forms(system int) []float64 {
	list := make([]float64, t.solver.parts[system].n+1)
	for lost := range list {
		list[lost] = t.solver.Fraction(system, lost)
	}
	return list
}

// Activities are those at an ionic strength in mol/L, for [Titration.VolumeAt]. They hold for every mixture
// of the same model, temperature and charges.
func (t *Titration) Activities(strength float64) Activities {
	t.solver.activities(strength)
	return t.solver.Activities
}

// VolumeAt is how many mL bring the mixture to a pH, with given activity coefficients. By the
// balance of charge, with Q the charge in a litre of the mixture and of the titrant at this pH, its
// own protons and hydroxide included:
//
//	V = −V₀·Q(mixture)/Q(titrant)
//
// It is negative, or infinite, where no addition gives this pH. No system is open to the air.
func (t *Titration) VolumeAt(pH float64, activities *Activities) float64 {
	s := t.solver
	s.Activities = *activities
	activity := math.Exp(-pH * ln10)
	water := activity/s.gammaProton - s.kw/(activity*s.gammaHydroxide)
	there, added := t.charge+water, t.chargeAdds+water
	for i := range s.parts {
		p := &s.parts[i]
		p.weigh(s, 1/activity)
		z := float64(p.z) - p.lost
		there, added = there+t.start[i]*z, added+t.adds[i]*z
	}
	return -t.volume * there / added
}
