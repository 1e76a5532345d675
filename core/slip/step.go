package slip

import "math"

// Op is what a step does with the steps under it.
type Op string

// What steps do. A figure has nothing under it.
const (
	Figure Op = ""
	Sum    Op = "+"
	Minus  Op = "-" // the first less the second
	Times  Op = "*"
	Over   Op = "/" // the first over the second
	Mean   Op = "mean"
	Log    Op = "log" // to the base of ten
	Scale  Op = "scale"
)

// Role is what a step is in the working: what slips look for.
type Role string

// The roles of figures.
const (
	Reading       Role = "reading"        // of a burette, in mL
	Aliquot       Role = "aliquot"        // by pipette, in mL
	Mark          Role = "mark"           // a flask made up to its mark, in mL
	Weighed       Role = "weighed"        // a mass, in g
	Constant      Role = "constant"       // looked up, or given
	Concentration Role = "concentration"  // of a bottle
	MoleRatio     Role = "mole ratio"     // of what is sought by what is known
	Purity        Role = "purity"         // a mass fraction
	Observed      Role = "observed"       // an absorbance, a pH
	Blank         Role = "blank"          // what the blank reads
	Transmittance Role = "transmittance"  // in %
	Path          Role = "path"           // in cm
	Drops         Role = "drops"          // a count
	Expected      Role = "expected value" // what a bottle was said to hold
)

// The roles of what is done with them.
const (
	Litres         Role = "litres"          // mL as L
	Volume         Role = "volume of drops" // a count as mL
	Titre          Role = "titre"           // end less start
	Trials         Role = "trials"          // the mean of those that count
	ToAmount       Role = "to amount"       // mass over molar mass
	DilutionFactor Role = "dilution factor" // flask over aliquot
	Diluted        Role = "diluted"         // aliquot over flask
	BaseOverAcid   Role = "base over acid"
	Logarithm      Role = "logarithm"
	Absorbance     Role = "absorbance" // minus the logarithm of a transmittance
	Net            Role = "net"        // less the blank
	Used           Role = "used"       // added less left
	OnLine         Role = "on line"    // absorbance less intercept, over slope
	Change         Role = "change"     // after less before
	Acidity        Role = "pH"
)

// Step is one step of how a result is worked out.
type Step struct {
	// Name in words: “end reading of trial 2”.
	Name string `json:"name"`
	Op   Op     `json:"op,omitempty"`
	Role Role   `json:"role,omitempty"`
	Of   []Step `json:"of,omitempty"`
	// Value of a figure in Unit, with its Decimals as written; Factor is what a scale multiplies by.
	Value    float64 `json:"value,omitempty"`
	Decimals int     `json:"decimals,omitempty"`
	Unit     string  `json:"unit,omitempty"`
	Factor   float64 `json:"factor,omitempty"`
	// Counted says which of the trials enter their mean; empty where all do.
	Counted []bool `json:"counted,omitempty"`
	// Repeats is the standard deviation of trials that agree, in the unit of their mean; 0 where that is not known.
	Repeats float64 `json:"repeats,omitempty"`
	// Least and Most bound a figure that its instrument can show, and Division is the last digit that it can be read to;
	// 0 where nothing is known.
	Least    float64 `json:"least,omitempty"`
	Most     float64 `json:"most,omitempty"`
	Division float64 `json:"division,omitempty"`
	// Instead are values that can be put here by mistake.
	Instead []Instead `json:"instead,omitempty"`
}

// Instead is a value that can be put in the place of another: by the ID of the slip, what it is in words.
type Instead struct {
	Slip  string  `json:"slip"`
	Says  string  `json:"says"`
	Value float64 `json:"value"`
}

// of works a step out from what is under it.
func (s *Step) of(args []float64) float64 {
	switch s.Op {
	case Sum:
		sum := 0.0
		for _, x := range args {
			sum += x
		}
		return sum
	case Minus:
		return args[0] - args[1]
	case Times:
		product := 1.0
		for _, x := range args {
			product *= x
		}
		return product
	case Over:
		return args[0] / args[1]
	case Mean:
		return s.mean(args, func(i int) bool { return len(s.Counted) == 0 || s.Counted[i] })
	case Log:
		return math.Log10(args[0])
	case Scale:
		return s.Factor * args[0]
	}
	return s.Value
}

func (s *Step) mean(args []float64, counts func(int) bool) float64 {
	sum, n := 0.0, 0
	for i, x := range args {
		if counts(i) {
			sum, n = sum+x, n+1
		}
	}
	return sum / float64(n)
}

// sheet is a tree laid out so that each step comes after those under it: the result is the last.
type sheet struct {
	steps  []*Step
	under  [][]int
	values []float64
	// room, moved and args are used again and again for what the result would be.
	room, args []float64
	moved      []bool
}

func layOut(root *Step) *sheet {
	w := &sheet{}
	w.add(root)
	w.room, w.moved = make([]float64, len(w.steps)), make([]bool, len(w.steps))
	return w
}

func (w *sheet) add(s *Step) int {
	under := make([]int, len(s.Of))
	for i := range s.Of {
		under[i] = w.add(&s.Of[i])
	}
	w.steps, w.under = append(w.steps, s), append(w.under, under)
	at := len(w.steps) - 1
	w.values = append(w.values, s.of(w.argsOf(at, w.values)))
	return at
}

// argsOf are the values under a step.
func (w *sheet) argsOf(at int, values []float64) []float64 {
	w.args = w.args[:0]
	for _, i := range w.under[at] {
		w.args = append(w.args, values[i])
	}
	return w.args
}

// result is what the figures give.
func (w *sheet) result() float64 { return w.values[len(w.values)-1] }

// scatter is the sum of squares of the trials that count around their mean, as multiples of how far trials that agree lie apart.
func (w *sheet) scatter(values []float64) (sum float64) {
	for at, s := range w.steps {
		if s.Role != Trials || s.Repeats == 0 {
			continue
		}
		for i, u := range w.under[at] {
			if len(s.Counted) == 0 || s.Counted[i] {
				apart := (values[u] - values[at]) / s.Repeats
				sum += apart * apart
			}
		}
	}
	return sum
}

// with works the result out with something else at one step or more.
func (w *sheet) with(chances ...*chance) float64 {
	copy(w.room, w.values)
	clear(w.moved)
	from := len(w.steps)
	for _, c := range chances {
		from = min(from, c.at)
	}
	for at := from; at < len(w.steps); at++ {
		for _, i := range w.under[at] {
			w.moved[at] = w.moved[at] || w.moved[i]
		}
		args := w.argsOf(at, w.room)
		if w.moved[at] {
			w.room[at] = w.steps[at].of(args)
		}
		for _, c := range chances {
			if c.at == at {
				w.room[at], w.moved[at] = c.instead(w.room[at], args), true
			}
		}
	}
	return w.room[len(w.room)-1]
}
