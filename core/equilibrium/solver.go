package equilibrium

import "math"

// Model is how activity coefficients are calculated.
type Model string

// The models; Davies is the usual one.
const (
	Davies              Model = ""
	ExtendedDebyeHuckel Model = "extended"
	Ideal               Model = "ideal"
)

// The sizes å of ions in Å for the extended equation of Debye and Hückel: Kielland, J. Am.
// Chem. Soc. 59 (1937) 1675 (from memory); the usual one for all that are not listed.
const (
	sizeProton    = 9.0
	sizeHydroxide = 3.5
	sizeUsual     = 4.5
)

// part is a system in a solver.
type part struct {
	n    int     // protons
	z    int     // charge with all of them
	c    float64 // mol/L
	open bool    // c is that of the form with all protons, held by the air
	k    [MaxSteps]float64
	// Of the point that was looked at last: the fractions of the forms, how many protons
	// are lost on average, and the mean square of the charges.
	weight       [MaxSteps + 1]float64
	lost, square float64
}

// Solver solves one mixture for many amounts: make it with [Mixture.Solver], set what
// changes, solve. It allocates nothing.
type Solver struct {
	parts      []part
	kw         float64
	a, b       float64 // of Debye and Hückel
	model      Model
	strong     float64 // Σ z·c of the strong ions, mol/L
	salt       float64 // Σ z²·c of the strong ions, mol/L
	Activities         // at the ionic strength that was looked at last
	highest    int     // charge that anything has
	warm       float64 // ln a(H⁺) that was found last; 0 at first
	strength   float64 // found last
	last       sums
}

// Activities are the activity coefficients at one ionic strength.
type Activities struct {
	// gamma by charge, 0 …; proton and hydroxide have their own.
	gamma                       [maxCharge + 1]float64
	gammaProton, gammaHydroxide float64
	perStep                     float64    // γ(1)^−2
	slope                       [3]float64 // d ln γ/dI by z²: of all ions, the proton, the hydroxide
}

const maxCharge = 10

// Point is where a mixture stands.
type Point struct {
	// PH is −log a(H⁺), Strength the ionic strength in mol/L.
	PH       float64
	Strength float64
	// Proton and Hydroxide are concentrations in mol/L.
	Proton, Hydroxide float64
}

// activities sets the activity coefficients at an ionic strength, and how fast they change.
func (s *Solver) activities(strength float64) {
	root := math.Sqrt(strength)
	switch s.model {
	case Ideal:
		s.powers(0, 0)
		s.gammaProton, s.gammaHydroxide, s.slope[1], s.slope[2] = 1, 1, 0, 0
	case ExtendedDebyeHuckel:
		of := func(size float64) (ln, slope float64) {
			d := 1 + s.b*size*root
			return -s.a * ln10 * root / d, -s.a * ln10 / (2 * math.Max(root, 1e-12) * d * d)
		}
		s.powers(of(sizeUsual))
		var ln float64
		ln, s.slope[1] = of(sizeProton)
		s.gammaProton = math.Exp(ln)
		ln, s.slope[2] = of(sizeHydroxide)
		s.gammaHydroxide = math.Exp(ln)
	default:
		d := 1 + root
		s.powers(-s.a*ln10*(root/d-0.3*strength), -s.a*ln10*(1/(2*math.Max(root, 1e-12)*d*d)-0.3))
		s.gammaProton, s.gammaHydroxide, s.slope[1], s.slope[2] = s.gamma[1], s.gamma[1], s.slope[0], s.slope[0]
	}
}

// powers fills in γ by charge from ln γ of a single one: γ(z) = γ(1)^(z²).
func (s *Solver) powers(ln, slope float64) {
	s.slope[0] = slope
	single := math.Exp(ln)
	s.gamma[0], s.perStep = 1, 1/(single*single)
	step := single
	for z := 1; z <= s.highest; z++ {
		s.gamma[z] = s.gamma[z-1] * step // the exponents 1, 4, 9 … differ by 1, 3, 5 …
		step *= single * single
	}
}

func (s *Solver) gammaOf(z int) float64 {
	if z < 0 {
		z = -z
	}
	return s.gamma[z]
}

// sums are the balance of charge at a point and how it changes. x is ln a(H⁺).
type sums struct {
	proton, hydroxide float64
	// over and under are the charges above and below the reference level, with their
	// derivatives by x and by the ionic strength.
	over, overX, overI    float64
	under, underX, underI float64
	// squares is Σ z²·c, twice the ionic strength.
	squares, squaresX, squaresI float64
}

// look works out the balance at x = ln a(H⁺) with the activity coefficients that are set.
// Each system is counted from the form that prevails, so that nothing cancels:
//
//	over − under = [H⁺] − [OH⁻] + Σ c·z + strong
func (s *Solver) look(x float64) *sums {
	t := &s.last
	activity := math.Exp(x)
	t.proton, t.hydroxide = activity/s.gammaProton, s.kw/(activity*s.gammaHydroxide)
	protonI, hydroxideI := -t.proton*s.slope[1], -t.hydroxide*s.slope[2]
	t.over, t.overX, t.overI = t.proton, t.proton, protonI
	t.under, t.underX, t.underI = t.hydroxide, -t.hydroxide, hydroxideI
	t.squares, t.squaresX, t.squaresI = s.salt+t.proton+t.hydroxide, t.proton-t.hydroxide, protonI+hydroxideI
	charge, inverse, slope := s.strong, 1/activity, s.slope[0]
	for i := range s.parts {
		p := &s.parts[i]
		if p.c == 0 {
			continue
		}
		level := p.weigh(s, inverse)
		charge += p.c * float64(p.z-level)
		var over, overX, overI, under, underX, underI, squares, squaresX, squaresI float64
		for j, weight := range p.weight[:p.n+1] {
			c, z := p.c*weight, float64(p.z-j)
			square := z * z
			byX, byI := c*(p.lost-float64(j)), -c*slope*(square-p.square)
			squares += c * square
			squaresX += byX * square
			squaresI += byI * square
			if away := float64(level - j); away > 0 {
				over, overX, overI = over+away*c, overX+away*byX, overI+away*byI
			} else {
				under, underX, underI = under-away*c, underX-away*byX, underI-away*byI
			}
		}
		t.over, t.overX, t.overI = t.over+over, t.overX+overX, t.overI+overI
		t.under, t.underX, t.underI = t.under+under, t.underX+underX, t.underI+underI
		t.squares, t.squaresX, t.squaresI = t.squares+squares, t.squaresX+squaresX, t.squaresI+squaresI
	}
	if charge > 0 {
		t.over += charge
	} else {
		t.under -= charge
	}
	return t
}

// weigh fills in the fractions of the forms and returns the level that they are counted
// from: that which prevails. Those of an open system are by the form with all protons,
// which the air holds, and counted from no charge.
func (p *part) weigh(s *Solver, inverse float64) (level int) {
	p.weight[0] = 1
	sum := 1.0
	ratio := inverse * s.gammaOf(p.z) / s.gammaOf(p.z-1) // γ(z)/γ(z−1) = γ(1)^(2z−1)
	for j := 1; j <= p.n; j++ {
		p.weight[j] = p.weight[j-1] * p.k[j-1] * ratio
		ratio *= s.perStep
		sum += p.weight[j]
		if p.weight[j] > p.weight[level] {
			level = j
		}
	}
	if p.open {
		p.lost, p.square = 0, float64(p.z*p.z)
		return p.z
	}
	p.lost, p.square = 0, 0
	share := 1 / sum
	for j := 0; j <= p.n; j++ {
		z := float64(p.z - j)
		p.weight[j] *= share
		p.lost += float64(j) * p.weight[j]
		p.square += z * z * p.weight[j]
	}
	return level
}

// Solve finds where the mixture stands. It takes Newton steps on ln(over/under), which is
// nearly straight, and on the ionic strength together; when they do not settle, as may
// happen far beyond the range of a model, the balance is bracketed instead.
func (s *Solver) Solve() Point {
	x, strength := s.warm, s.strength
	if x == 0 {
		x, strength = math.Log(1e-7), s.salt/2
	}
	for range maxSteps {
		s.activities(strength)
		t := s.look(x)
		h, hx, hi := logRatio(t.over, t.under), t.overX/t.over-t.underX/t.under, t.overI/t.over-t.underI/t.under
		r, rx, ri := t.squares/2-strength, t.squaresX/2, t.squaresI/2-1
		determinant := hx*ri - hi*rx
		dx, di := -(h*ri-hi*r)/determinant, -(hx*r-h*rx)/determinant
		if !(math.Abs(dx) < farthest) || !(strength+di > 0) || math.Abs(di) > strength+0.01 { // one by one, while it is far
			dx, di = math.Max(-farthest, math.Min(farthest, -h/hx)), r
		}
		x, strength = x+dx, strength+di
		if math.Abs(dx) < tolerance && math.Abs(di) <= tolerance*strength+1e-18 {
			return s.found(x, strength, t)
		}
	}
	return s.bracket()
}

// logRatio is ln(a/b). Close to its root, where most steps are taken, the first terms of its
// series are as good, and take a third of the time.
func logRatio(a, b float64) float64 {
	d := (a - b) / (a + b)
	if math.Abs(d) > 0.1 {
		return math.Log(a / b)
	}
	square := d * d
	return 2 * d * (1 + square*(1.0/3+square*(1.0/5+square/7)))
}

const (
	maxSteps  = 40
	tolerance = 1e-10 // of a Newton step: what is left after it is its square
	farthest  = 12.0  // step of x
)

func (s *Solver) found(x, strength float64, t *sums) Point {
	s.warm, s.strength = x, strength
	return Point{PH: -x / ln10, Strength: strength, Proton: t.proton, Hydroxide: t.hydroxide}
}

// bracket solves by halving: the pH at a given ionic strength, where the balance is
// monotone, within the ionic strength that this pH gives. Both have a root: at zero more
// ions are there than asked for, and at the most that there can be fewer.
func (s *Solver) bracket() Point {
	at := func(strength float64) (float64, *sums) {
		s.activities(strength)
		low, high := -20*ln10, 5*ln10
		for range 70 {
			middle := (low + high) / 2
			if t := s.look(middle); t.over > t.under {
				high = middle
			} else {
				low = middle
			}
		}
		x := (low + high) / 2
		return x, s.look(x)
	}
	low, high := 0.0, 1.0
	for high < maxStrength {
		if _, t := at(high); t.squares/2 <= high {
			break
		}
		high *= 2
	}
	for range 60 {
		middle := (low + high) / 2
		if _, t := at(middle); t.squares/2 > middle {
			low = middle
		} else {
			high = middle
		}
	}
	x, t := at((low + high) / 2)
	return s.found(x, (low+high)/2, t)
}

// maxStrength is beyond what any mixture has that is let in, in mol/L.
const maxStrength = 4096

// At is where the mixture stands when strong acid or base brings it to a pH, and how much
// of it that takes: base in mol/L, negative for acid. Its ions count in the ionic strength.
func (s *Solver) At(pH float64) (p Point, base float64) {
	x := -pH * ln10
	strength := s.strength
	var t *sums
	for range maxSteps {
		s.activities(strength)
		t = s.look(x)
		base = t.under - t.over
		baseI := t.underI - t.overI
		if base < 0 {
			baseI = -baseI
		}
		r, ri := (t.squares+math.Abs(base))/2-strength, (t.squaresI+baseI)/2-1
		step := -r / ri
		if !(ri < 0) || !(strength+step > 0) {
			step = r
		}
		strength += step
		if math.Abs(step) <= tolerance*strength {
			break
		}
	}
	s.strength = strength
	return Point{PH: pH, Strength: strength, Proton: t.proton, Hydroxide: t.hydroxide}, base
}

// SetStrong replaces the strong ions: their charge Σ z·c and squares Σ z²·c in mol/L.
func (s *Solver) SetStrong(charge, squares float64) { s.strong, s.salt = charge, squares }

// Set replaces the concentration of a system, by its place in the mixture, in mol/L.
func (s *Solver) Set(system int, c float64) { s.parts[system].c = c }

// Fraction is the part of a system, by its place in the mixture, that has given off so
// many protons, at the point that was found last.
func (s *Solver) Fraction(system, lost int) float64 {
	if p := s.parts[system]; lost >= 0 && lost <= p.n {
		return p.weight[lost]
	}
	return 0
}
