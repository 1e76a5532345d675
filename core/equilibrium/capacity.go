package equilibrium

// Capacity is the buffer capacity β = d c(strong base)/d pH in mol/L per pH at a point, and
// what it is made of. The parts are those at constant ionic strength; Activity is what the
// ions of the base that is added change.
type Capacity struct {
	Total, Water, Activity float64
}

// Capacity differentiates the balance at the point that was found last, activity
// coefficients and ionic strength with it:
//
//	β = ln 10·(∂G/∂x + ∂G/∂I·dI/dx),  G = Σ z·c,  x = ln a(H⁺)
//	dI/dx = (∂S/∂x − ∂G/∂x)/(2 − ∂S/∂I + ∂G/∂I),  S = Σ z²·c
//
// steps, when not nil, is told the part of each step of each system. At constant ionic
// strength that of a step is c·cov(gone, lost): whether its proton is gone, and how many
// are; the parts of a system add up to c·var(lost).
func (s *Solver) Capacity(steps func(system, step int, beta float64)) Capacity {
	t := s.last
	gx, gi := t.overX-t.underX, t.overI-t.underI
	activity := gi * (t.squaresX - gx) / (2 - t.squaresI + gi)
	if steps != nil {
		for i := range s.parts {
			for k := range s.parts[i].n {
				steps(i, k, ln10*s.parts[i].share(k))
			}
		}
	}
	return Capacity{Total: ln10 * (gx + activity), Water: ln10 * (t.proton + t.hydroxide), Activity: ln10 * activity}
}

// share is what a step adds to −d(c·z)/dx: by the forms in which its proton is gone.
func (p *part) share(step int) float64 {
	sum := 0.0
	for j := step + 1; j <= p.n; j++ {
		sum += p.c * p.weight[j] * (float64(j) - p.lost)
	}
	return sum
}
