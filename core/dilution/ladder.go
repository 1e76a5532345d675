package dilution

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"vialbench/core/figure"
	"vialbench/core/formula"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/substance"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
)

// Stock is what is diluted.
type Stock struct {
	Name    string          `json:"name"`
	Formula []formula.Piece `json:"formula,omitempty"`
	Unit    string          `json:"unit"` // "mol/L", "mg/L P"
	// Concentration in Unit, with all that adds to its uncertainty.
	Concentration uncertain.Number `json:"concentration"`
	// Expanded uncertainty at k = 2 in Unit, as the certificate or the label of a
	// stock states it that was not made here; 0 when it counts as exact.
	Expanded float64 `json:"expanded,omitempty"`
	// Bottle it is taken from, by its ID and its Number, and how much of it is left in
	// mL; empty and 0 when it is not on the shelf.
	Bottle string  `json:"bottle,omitempty"`
	Number int64   `json:"number,omitempty"`
	Left   float64 `json:"left,omitempty"`
	// Approximate tells that it was never standardised and is no primary standard.
	Approximate bool `json:"approximate,omitempty"`
	// Concentrate tells that it is a concentrated liquid, of the substance with this
	// Key: solvent first, in the hood.
	Concentrate bool   `json:"concentrate,omitempty"`
	Key         string `json:"key,omitempty"`
	// Density in g/mL at 20 °C within ±DensityLimits (rectangular), of a stock that
	// portions are weighed of; 0 when they are not.
	Density       float64 `json:"density,omitempty"`
	DensityLimits float64 `json:"densityLimits,omitempty"`
	// Hazards and signal word of what it was made from.
	Hazards []string `json:"hazards,omitempty"`
	Signal  string   `json:"signal,omitempty"`
}

// String names the stock, with its bottle.
func (s Stock) String() string {
	if s.Number == 0 {
		return s.Name
	}
	return fmt.Sprintf("%s, bottle %d", s.Name, s.Number)
}

// stated takes an expanded uncertainty that was stated into the concentration
// (GUM 4.3.3: u = U/k).
func (s Stock) stated() Stock {
	if s.Expanded > 0 {
		s.Concentration = uncertain.New(s.Concentration.Value, s.Expanded/2, uncertain.Source{ID: "stock as stated", Label: "the stock",
			Basis: fmt.Sprintf("± %s %s at k = 2, as stated", short(s.Expanded), s.Unit), Shape: uncertain.NormalShape})
	}
	return s
}

// The largest figures taken in: more than any bench has, in whichever unit.
const (
	maxConcentration = 1e9
	maxVolume        = 1e5 // mL
)

func (s Stock) check(p *verdict.Problems) {
	if c := s.Concentration.Value; !(c > 0 && c <= maxConcentration) {
		p.Add("/stock/concentration", "the concentration of the stock is above zero, and at most %s %s", quantity.Digits(maxConcentration, 0), s.Unit)
	}
}

// FromStock is where a rung that is made from the stock comes from.
const FromStock = -1

// Rung is one tube or flask of the ladder: so much of the stock or of an earlier rung,
// made up in a flask or with so much solvent.
type Rung struct {
	From  int            `json:"from"` // FromStock, or the place of an earlier rung from 0
	With  glassware.Item `json:"with,omitzero"`
	Times int            `json:"times"` // fillings of a one-mark pipette
	Taken float64        `json:"taken"` // mL; 0 of the blank
	// Weighed tells that the portion is weighed into the flask instead of measured
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
	// Step is the dilution factor of this rung alone, Factor that from the stock on;
	// both nominal, 0 of the blank.
	Step   float64 `json:"step"`
	Factor float64 `json:"factor"`
	// Concentration in the unit it reads best in: that of the stock, or a thousandth.
	Concentration figure.Figure `json:"concentration"`
	// Needed is what must be there of it in mL, Spare what is left over.
	Needed float64 `json:"needed"`
	Spare  float64 `json:"spare"`
}

// Ladder is what a request comes to.
type Ladder struct {
	Tubes []Tube `json:"tubes"`
	// StockNeeded and SolventNeeded in mL, rinsing of the pipette included.
	StockNeeded   float64           `json:"stockNeeded"`
	SolventNeeded float64           `json:"solventNeeded"`
	Verdicts      []verdict.Verdict `json:"verdicts"`
	// Order lists the tubes in the order of measuring, the most dilute first.
	Order []int `json:"order"`
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
		at := fmt.Sprintf("/rungs/%d", i)
		switch {
		case rung.From < FromStock || rung.From >= i:
			p.Add(at+"/from", "a tube is made from the stock or from an earlier tube")
		case !(rung.Taken >= 0) || !(rung.Final() > 0 && rung.Final() <= maxVolume):
			p.Add(at+"/taken", "a volume is zero or more, and the final volume above zero, up to %s mL", quantity.Digits(maxVolume, 0))
		case rung.Taken > rung.Final()*(1+exactly):
			p.Add(at+"/taken", "%s mL is more than the final volume, %s mL", short(rung.Taken), short(rung.Final()))
		case rung.Weighed:
			r.checkWeighed(rung, at, &p)
		case rung.Taken > 0 && rung.With.Kind == glassware.OneMarkPipette && math.Abs(rung.Taken-float64(rung.Times)*rung.With.Volume) > 1e-6:
			p.Add(at+"/taken", "a %s filled %d times gives %s mL, not %s", rung.With.Name(), rung.Times, short(float64(rung.Times)*rung.With.Volume), short(rung.Taken))
		case rung.With.Division() > 0 && rung.Taken > rung.With.Volume*(1+exactly):
			p.Add(at+"/taken", "%s mL is more than a %s lets out in one go", short(rung.Taken), rung.With.Name())
		case rung.Flask == nil && rung.Solvent > 0 && rung.SolventWith == nil:
			p.Add(at+"/solventWith", "say what the solvent is measured with")
		}
	}
	return p.OrNil()
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

// density of the stock in g/mL. The concentration of a concentrated liquid comes from
// the same density (c = 1000·ρ·w/M): the two share their error, which cancels, since a
// weighed portion holds an amount m·w/M that the density has no part in.
func (s Stock) density() uncertain.Number {
	for _, c := range s.Concentration.Contributions {
		if s.Concentrate && c.ID == substance.DensitySource+s.Key {
			c.U *= s.Density / s.Concentration.Value
			return uncertain.Number{Value: s.Density, Contributions: []uncertain.Contribution{c}}
		}
	}
	return uncertain.WithLimits(s.Density, s.DensityLimits, uncertain.RectangularShape, uncertain.Source{
		ID: "density of the stock", Label: "density of the stock", Basis: fmt.Sprintf("%g ± %g g/mL, rectangular", s.Density, s.DensityLimits)})
}

// weighed is the volume in mL of a portion that the balance showed, or is to show, as
// so many grams: m = W·b, V = m/ρ (package weighing has b).
func (r Request) weighed(grams, spread float64, id string) uncertain.Number {
	mass := r.Balance.Net(grams, 0, id)
	if spread > 0 {
		mass = mass.Plus(r.Balance.Moved(spread, id))
	}
	return mass.Times(weighing.Buoyancy(1000 * r.Stock.Density)).Over(r.Stock.density())
}

// grams is what the balance shows of a volume in mL of the stock.
func (r Request) grams(mL float64) float64 {
	return mL * r.Stock.Density / weighing.Buoyancy(1000*r.Stock.Density).Value
}

// Plan computes a ladder. An error is a verdict.Problems.
func Plan(r Request) (Ladder, error) {
	if err := r.check(); err != nil {
		return Ladder{}, err
	}
	l := Ladder{Tubes: make([]Tube, len(r.Rungs))}
	concentrations := r.concentrations(nil, r.expansions(nil))
	n := 0
	for i, rung := range r.Rungs {
		t := &l.Tubes[i]
		if t.Rung = rung; rung.Weighed {
			t.Grams = r.grams(rung.Taken)
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
		t.Concentration = figure.Readable("tube "+strconv.Itoa(i+1), "tube "+t.Label, r.Stock.Unit, concentrations[i])
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
		taken = fmt.Sprintf("%s g (about %.3g mL) of %s, weighed on %s", quantity.Digits(ladder.grams(r.Taken), ladder.Balance.Decimals()), r.Taken, from, ladder.Balance.Name)
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

// volumes of a rung, in mL at 20 °C: taken and final. made, when not nil, is what was
// read at the bench instead of what was planned.
func (r Request) volumes(i int, made *made, at expansions) (taken, final uncertain.Number) {
	rung := r.Rungs[i]
	id := "rung " + strconv.Itoa(i+1)
	if made != nil && made.id != "" {
		id = made.id
	}
	switch {
	case rung.Taken == 0:
	case rung.Weighed:
		grams, spread := r.grams(rung.Taken), 0.0
		if made != nil && made.grams != nil {
			grams, spread = *made.grams, made.spread
		}
		taken = r.weighed(grams, spread, id)
	case rung.With.Kind == glassware.OneMarkPipette:
		for n := range rung.Times {
			taken = taken.Plus(rung.With.Delivered(id + " " + strconv.Itoa(n+1)))
		}
	default:
		mL := rung.Taken
		if made != nil && made.taken != nil {
			mL = *made.taken
		}
		taken = rung.With.Dispensed(mL, id)
	}
	switch {
	case rung.Weighed: // its density is that at 20 °C
	case rung.From == FromStock:
		taken = taken.Times(at.stock)
	default:
		taken = taken.Times(at.solvent)
	}
	if rung.Flask != nil {
		final = rung.Flask.AtReference()
		final.Contributions = slices.Clone(final.Contributions)
		for k, c := range final.Contributions {
			if strings.HasPrefix(c.ID, glassware.FillingSource) { // filled anew
				final.Contributions[k].ID = glassware.FillingSource + id
			}
		}
		final = uncertain.Number{Value: final.Value, Contributions: sorted(final.Contributions)}
		return taken, final.Times(at.solvent)
	}
	final = taken
	if rung.Solvent > 0 {
		mL := rung.Solvent
		if made != nil && made.solvent != nil {
			mL = *made.solvent
		}
		final = final.Plus(rung.SolventWith.Dispensed(mL, "solvent "+id).Times(at.solvent))
	}
	return taken, final
}

func sorted(list []uncertain.Contribution) []uncertain.Contribution {
	slices.SortFunc(list, func(a, b uncertain.Contribution) int { return strings.Compare(a.ID, b.ID) })
	return list
}

// expansions bring volumes to 20 °C: of the stock, and of the solvent and all that is
// made with it.
type expansions struct{ stock, solvent uncertain.Number }

// expansions at what was measured at the bench, or at the temperature of the plan.
func (r Request) expansions(measured *float64) expansions {
	t := r.WaterTemperature
	if measured != nil {
		t = *measured
	}
	return expansions{glassware.Expansion(t, temperatureLimits, "stock"), glassware.Expansion(t, temperatureLimits, "solvent")}
}

// made is what is known of a rung from the bench.
type made struct {
	id             string   // of the facts that its errors belong to
	taken, solvent *float64 // mL
	grams          *float64 // of a portion that is weighed, as the balance shows it
	spread         float64  // g, how far that reading still moved
}

// concentrations computes all rungs; made, when not nil, has one entry for each.
func (r Request) concentrations(from []*made, at expansions) []uncertain.Number {
	list := make([]uncertain.Number, len(r.Rungs))
	for i, rung := range r.Rungs {
		var m *made
		if from != nil {
			m = from[i]
		}
		taken, final := r.volumes(i, m, at)
		source := r.Stock.Concentration
		if rung.From != FromStock {
			source = list[rung.From]
		}
		switch {
		case rung.Taken == 0:
		case rung.Flask == nil && rung.Solvent == 0: // undiluted: nothing cancels out of nothing
			list[i] = source
		default:
			list[i] = source.Times(taken).Over(final)
		}
	}
	return list
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

// verdicts judge a ladder.
func (r Request) verdicts(l Ladder) []verdict.Verdict {
	var list []verdict.Verdict
	if r.Stock.Left > 0 && l.StockNeeded > r.Stock.Left*(1+exactly) {
		list = append(list, RuleStockLeft.Says(verdict.Stop, nil, "%s mL of the stock are needed, with rinsing the pipette, and %s mL are left in the bottle.", quantity.Digits(l.StockNeeded, 1), quantity.Digits(r.Stock.Left, 1)))
	}
	if r.Stock.Concentrate {
		list = append(list, RuleConcentrate.Says(verdict.Look, nil, "In the fume hood: half the solvent into the flask first, the liquid slowly into it, never the reverse; let it cool before the mark. What comes of it is approximate until standardised."))
	}
	least := r.Thresholds.Of(RuleSmallVolume)
	var scant, small, strong []string // the tubes that a rule has something to say of
	for i, t := range l.Tubes {
		if t.Spare < -1e-6 {
			scant = append(scant, fmt.Sprintf("%s (makes %s mL, %s mL needed)", t.Label, short(t.Final()), short(t.Needed)))
		}
		if t.Weighed {
			list = append(list, r.verdictsOfWeighing(t)...)
		} else if d := t.With.Division(); t.Taken > 0 && d > 0 && t.Taken < least*d {
			small = append(small, fmt.Sprintf("%s (%s mL is %.0f divisions of the %s)", t.Label, short(t.Taken), t.Taken/d, t.With.Name()))
		}
		if rung := r.Rungs[i]; rung.Flask == nil && rung.Solvent > 0 && rung.Taken > 0 && r.Stock.molarity() > additiveUpTo {
			strong = append(strong, t.Label)
		}
	}
	if len(scant) > 0 {
		list = append(list, RuleRunsOut.Says(verdict.Stop, nil, "Too little of tube %s: for itself, for what is taken on, and to rinse the pipette.", strings.Join(scant, ", ")))
	}
	if len(small) > 0 {
		list = append(list, RuleSmallVolume.Says(verdict.Look, nil, "Little of a scale is used for tube %s. Take a smaller pipette, or dilute in two steps.", strings.Join(small, ", ")))
	}
	if len(strong) > 0 {
		list = append(list, RuleAdditive.Says(verdict.Look, nil, "Tube %s adds solvent to a strong stock: volumes are not quite additive. Make it up to the mark of a flask.", strings.Join(strong, ", ")))
	}
	return list
}

// verdictsOfWeighing judge whether the balance is the right one for a portion.
func (r Request) verdictsOfWeighing(t Tube) []verdict.Verdict {
	tolerance := r.Thresholds.Of(weighing.RuleSmallestMass) / 100
	grams := quantity.Digits(t.Grams, r.Balance.Decimals())
	if t.Grams > r.Balance.Capacity {
		return []verdict.Verdict{weighing.RuleCapacity.Says(verdict.Stop, nil, "%s g for tube %s is more than %s carries (%g g).", grams, t.Label, r.Balance.Name, r.Balance.Capacity)}
	}
	if smallest := r.Balance.SmallestMass(tolerance); t.Grams < smallest {
		return []verdict.Verdict{weighing.RuleSmallestMass.Says(verdict.Look, nil, "%s g for tube %s is less than %s weighs to %.2g %% (from %s g on): take a larger flask, or two steps.",
			grams, t.Label, r.Balance.Name, 100*tolerance, quantity.Digits(smallest, r.Balance.Decimals()))}
	}
	return nil
}

// molarity of the stock in mol/L; 0 when its unit tells of no amount.
func (s Stock) molarity() float64 {
	if unit, err := quantity.FindUnit(s.Unit); err == nil && unit.Dimension == quantity.AmountConcentration {
		return s.Concentration.Value * unit.Factor
	}
	return 0
}

// additiveUpTo is the molarity up to which volumes add up within the errors of
// burettes (common practice).
const additiveUpTo = 1.0

// The rules of dilution. Thresholds are defaults that a lab can set.
var (
	RuleSmallVolume = verdict.Rule{ID: "D-1", Title: "Enough of a scale is used", Threshold: leastDivisions, Unit: "smallest divisions", Min: 5, Max: 100,
		Why: "A scale is read to about a fifth of its smallest division, twice: on a few divisions that is per cents.", Source: "common practice"}
	RuleStockLeft = verdict.Rule{ID: "D-2", Title: "The bottle holds enough",
		Why: "A pipette is rinsed two or three times with what it will hold, and that is drawn too.", Source: "common practice"}
	RuleRunsOut = verdict.Rule{ID: "D-3", Title: "No stage runs out",
		Why: "Of each stage a portion is kept, some is carried on, and the pipette is rinsed with it.", Source: "common practice"}
	RuleAdditive = verdict.Rule{ID: "D-4", Title: "To the mark, or so much added",
		Why: "Making up to 100 mL and adding 100 mL are different things: volumes are not additive.", Source: "common practice"}
	RuleNearest = verdict.Rule{ID: "D-5", Title: "Reached exactly, or nearly",
		Why: "Glass comes in a few volumes, and nobody pours a target exactly. What was reached is what the label says.", Source: "common practice"}
	RuleColon = verdict.Rule{ID: "D-6", Title: "One in twenty, or one and twenty", Threshold: 0, Unit: "1 when 1:20 is 1 + 20", Min: 0, Max: 1,
		Why: "“1:20” is one part in twenty to most, and one part and twenty parts to some. What was read is always said.", Source: "common practice"}
)

// RuleConcentrate is about starting from a concentrated liquid.
var RuleConcentrate = verdict.Rule{ID: "D-7", Title: "From a concentrated liquid",
	Why: "Poured the wrong way round it boils and spits; hot, it fills the flask to the wrong volume; and its label is only approximately right.", Source: "common practice"}

// RuleFlasks is about how many flasks a ladder takes.
var RuleFlasks = verdict.Rule{ID: "D-8", Title: "A flask for every tube",
	Why: "A flask that still holds one stage cannot take the next.", Source: "common practice"}

// RulePast is about a stage that must be made again.
var RulePast = verdict.Rule{ID: "D-9", Title: "A stage made again",
	Why: "Past the mark the volume is unknown, and no liquid is taken out again. All that is made from a stage carries its error.", Source: "common practice"}

// Rules lists the rules of the package.
func Rules() []verdict.Rule {
	return []verdict.Rule{RuleSmallVolume, RuleStockLeft, RuleRunsOut, RuleAdditive, RuleNearest, RuleColon, RuleConcentrate, RuleFlasks, RulePast}
}
