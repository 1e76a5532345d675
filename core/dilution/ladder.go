package dilution

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strconv"

	"vialbench/core/figure"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
)

// FromStock is where a rung that is made from the stock comes from.
const FromStock = -1

// Rung is one tube or flask of the ladder: so much of the stock or of an earlier rung,
// made up in a flask or with so much solvent.
type Rung struct {
	From  int            `json:"from"` // FromStock, or the place of an earlier rung from 0
	With  glassware.Item `json:"with,omitzero"`
	Times int            `json:"times"` // fillings of a one-mark pipette
	Taken float64        `json:"taken"` // mL; 0 of the blank
	// Weighed reports whether the portion is weighed into the flask instead of measured
	// With glass; Taken is its volume then.
	Weighed bool `json:"weighed,omitempty"`
	// Flask it is made up in, to the mark; or else the Solvent in mL that is added with
	// SolventWith.
	Flask       *glassware.Flask `json:"flask,omitempty"`
	Solvent     float64          `json:"solvent,omitempty"`
	SolventWith *glassware.Item  `json:"solventWith,omitempty"`
}

// Final is the volume made in mL, nominal.
func (r Rung) Final() float64 {
	if r.Flask != nil {
		return r.Flask.Volume
	}
	return r.Taken + r.Solvent
}

// Request is a ladder that is to be made.
type Request struct {
	Stock Stock  `json:"stock"`
	Rungs []Rung `json:"rungs"`
	// Keep is what of each rung is wanted for itself, Rinse what the pipette is rinsed
	// with before it takes from a liquid; both in mL.
	Keep  float64 `json:"keep"`
	Rinse float64 `json:"rinse"`
	// OneBurette reports whether stock and solvent go through one and the same burette.
	OneBurette bool `json:"oneBurette,omitempty"`
	// Balance that portions are weighed on; nil when none is.
	Balance *weighing.Balance `json:"balance,omitempty"`
	// WaterTemperature in °C, of the solvent and the room.
	WaterTemperature float64            `json:"waterTemperature"`
	Thresholds       verdict.Thresholds `json:"thresholds,omitempty"`
}

// MaxRungs is how long a ladder is at most.
const MaxRungs = 12

// temperatureLimits is how far stock and solvent may each be from the temperature on
// the bench, in °C.
const temperatureLimits = 2.0

// Tube is a rung with what it gives.
type Tube struct {
	Rung
	Label string `json:"label"` // "1", "2", …; "blank"
	// Words say what to do.
	Words string `json:"words"`
	// Grams is what the balance is to show of a portion that is weighed.
	Grams float64 `json:"grams,omitempty"`
	// GramsText writes it with the digits that the balance shows.
	GramsText string `json:"gramsText,omitempty"`
	// Step is the dilution factor of this rung alone, Factor that from the stock on;
	// both nominal, 0 of the blank.
	Step   float64 `json:"step"`
	Factor float64 `json:"factor"`
	// Concentration in the one unit of the ladder.
	Concentration figure.Figure `json:"concentration"`
	// Needed is what must be there of it in mL, Spare what is left over.
	Needed float64 `json:"needed"`
	Spare  float64 `json:"spare"`
}

// Ladder is the answer to a request.
type Ladder struct {
	// Unit that all tubes are told in: that of the stock, or a thousandth of it.
	Unit  string `json:"unit"`
	Tubes []Tube `json:"tubes"`
	// StockNeeded and SolventNeeded in mL, rinsing of the pipette included.
	StockNeeded   float64           `json:"stockNeeded"`
	SolventNeeded float64           `json:"solventNeeded"`
	Verdicts      []verdict.Verdict `json:"verdicts"`
	// Order lists the tubes in the order of measuring, the most dilute first.
	Order []int `json:"order"`

	scale float64 // from the unit of the stock to Unit
}

// check returns the problems of a request as verdict.Problems.
func (r Request) check() error {
	var p verdict.Problems
	r.Stock.check(&p)
	if n := len(r.Rungs); n == 0 || n > MaxRungs {
		p.Add("/rungs", "a ladder has 1 to %d tubes, and this one would have %d", MaxRungs, n)
	}
	if !(r.WaterTemperature >= glassware.MinTemperature && r.WaterTemperature <= glassware.MaxTemperature) {
		p.Add("/waterTemperature", "the water is between 0 and 40 °C")
	}
	if !(r.Keep >= 0 && r.Keep <= 10_000) || !(r.Rinse >= 0 && r.Rinse <= 100) {
		p.Add("/keep", "what is kept of each tube and what the pipette is rinsed with are zero or more, in mL")
	}
	for i, rung := range r.Rungs {
		r.checkRung(i, rung, &p)
	}
	return p.OrNil()
}

// checkRung notes what is wrong with one rung.
func (r Request) checkRung(i int, rung Rung, p *verdict.Problems) {
	at := fmt.Sprintf("/rungs/%d", i)
	switch {
	case rung.From < FromStock || rung.From >= i:
		p.Add(at+"/from", "a tube is made from the stock or from an earlier tube")
	case !(rung.Taken >= 0) || !(rung.Final() > 0 && rung.Final() <= maxVolume):
		p.Add(at+"/taken", "a volume is zero or more, and the final volume above zero, up to %s mL", quantity.Digits(maxVolume, 0))
	case rung.Taken > rung.Final()*(1+exactly):
		p.Add(at+"/taken", "%s mL is more than the final volume, %s mL", short(rung.Taken), short(rung.Final()))
	case rung.Weighed:
		r.checkWeighed(rung, at, p)
	case rung.Taken > 0 && rung.With.Kind == glassware.OneMarkPipette && math.Abs(rung.Taken-float64(rung.Times)*rung.With.Volume) > 1e-6:
		p.Add(
			at+"/taken",
			"a %s filled %d times gives %s mL, not %s",
			rung.With.Name(),
			rung.Times,
			short(float64(rung.Times)*rung.With.Volume),
			short(rung.Taken),
		)
	case rung.With.Division() > 0 && rung.Taken > rung.With.Volume*(1+exactly):
		p.Add(at+"/taken", "%s mL is more than a %s lets out in one go", short(rung.Taken), rung.With.Name())
	case rung.Flask == nil && rung.Solvent > 0 && rung.SolventWith == nil:
		p.Add(at+"/solventWith", "say what the solvent is measured with")
	}
}

// checkWeighed notes what a portion that is to be weighed lacks.
func (r Request) checkWeighed(rung Rung, at string, p *verdict.Problems) {
	switch {
	case rung.From != FromStock || rung.Flask == nil || !(rung.Taken > 0):
		p.Add(at+"/weighed", "what is weighed is a portion of the stock, into a flask that is filled to its mark")
	case r.Balance == nil:
		p.Add("/balance", "put a balance on the bench first: the portion is weighed on it")
	case r.Balance.Check() != nil:
		p.Add("/balance", "%s", r.Balance.Check())
	case !(r.Stock.Density >= 0.5 && r.Stock.Density <= 3.5):
		p.Add("/stock/density", "a portion that is weighed needs the density of the stock in g/mL at 20 °C, like 1.05")
	case !(r.Stock.DensityLimits >= 0 && r.Stock.DensityLimits < r.Stock.Density/10):
		p.Add("/stock/densityLimits", "the density is known within zero or more, and less than a tenth of it")
	}
}

// Ladder computes the answer to a request. An error is a verdict.Problems.
func (r Request) Ladder() (Ladder, error) {
	if err := r.check(); err != nil {
		return Ladder{}, err
	}
	l := Ladder{Tubes: make([]Tube, len(r.Rungs))}
	concentrations := r.concentrations(nil, r.expansions(nil))
	l.Unit, l.scale = r.unit(concentrations)
	n := 0
	for i, rung := range r.Rungs {
		t := &l.Tubes[i]
		if t.Rung = rung; rung.Weighed {
			t.Grams = r.grams(rung.Taken)
			t.GramsText = quantity.Digits(t.Grams, r.Balance.Decimals()) + " g"
		}
		t.Words = r.words(i)
		if rung.Taken == 0 {
			t.Label = "blank"
		} else {
			n++
			t.Label = strconv.Itoa(n)
			t.Step = rung.Final() / rung.Taken
			t.Factor = t.Step
			if rung.From != FromStock {
				t.Factor *= l.Tubes[rung.From].Factor
			}
		}
		t.Concentration = l.figure(i, concentrations[i])
	}
	r.needs(&l)
	l.Verdicts = r.verdicts(l)
	for i := range l.Tubes {
		l.Order = append(l.Order, i)
	}
	slices.SortStableFunc(l.Order, func(a, b int) int {
		return cmp.Compare(concentrations[a].Value, concentrations[b].Value)
	})
	return l, nil
}

// unit is the one in which all tubes of a ladder read well, and the factor to it from that
// of the stock: that of the weakest.
func (r Request) unit(concentrations []uncertain.Number) (unit string, factor float64) {
	least := r.Stock.Concentration.Value
	for _, c := range concentrations {
		if c.Value > 0 {
			least = math.Min(least, c.Value)
		}
	}
	return quantity.Readable(least, r.Stock.Unit)
}

// figure writes the concentration of a tube, given in the unit of the stock.
func (l Ladder) figure(i int, c uncertain.Number) figure.Figure {
	return figure.New("tube "+strconv.Itoa(i+1), "tube "+l.Tubes[i].Label, l.Unit, c.Scale(l.scale)).As(figure.Concentration)
}

// name says where a rung comes from.
func (r Request) name(from int) string {
	if from == FromStock {
		return "the stock"
	}
	return "tube " + strconv.Itoa(from+1)
}

// words say how a rung is made.
func (ladder Request) words(i int) string {
	r, from := ladder.Rungs[i], ladder.name(ladder.Rungs[i].From)
	taken := short(r.Taken) + " mL of " + from + " with a " + r.With.Name()
	if r.Weighed {
		taken = fmt.Sprintf(
			"%s g (about %.3g mL) of %s, weighed on %s",
			quantity.Digits(ladder.grams(r.Taken), ladder.Balance.Decimals()),
			r.Taken,
			from,
			ladder.Balance.Name,
		)
	}
	if r.Times > 1 {
		taken += fmt.Sprintf(", filled %d times", r.Times)
	}
	switch {
	case r.Flask != nil && r.Taken == 0:
		return "solvent alone, to the mark of a " + r.Flask.String() + " flask"
	case r.Flask != nil:
		return taken + ", to the mark of a " + r.Flask.String() + " flask"
	case r.Taken == 0:
		return short(r.Solvent) + " mL of solvent alone, with a " + r.SolventWith.Name()
	case r.Solvent == 0:
		return taken
	}
	return taken + ", and " + short(r.Solvent) + " mL of solvent with a " + r.SolventWith.Name()
}

// needs works back from the end how much of each rung must be there.
func (r Request) needs(l *Ladder) {
	for i := range l.Tubes {
		l.Tubes[i].Needed = r.Keep
	}
	for i := len(r.Rungs) - 1; i >= 0; i-- {
		rung := r.Rungs[i]
		l.SolventNeeded += rung.Final() - rung.Taken
		if rung.Taken == 0 {
			continue
		}
		switch drawn := rung.Taken + r.Rinse; {
		case rung.Weighed: // no pipette to rinse
			l.StockNeeded += rung.Taken
		case rung.From == FromStock:
			l.StockNeeded += drawn
		default:
			l.Tubes[rung.From].Needed += drawn
		}
	}
	for i := range l.Tubes {
		l.Tubes[i].Spare = l.Tubes[i].Final() - l.Tubes[i].Needed
	}
}
