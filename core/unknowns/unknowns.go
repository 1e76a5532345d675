package unknowns

import (
	"cmp"
	"crypto/sha256"
	"encoding/binary"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"

	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

// Question asks for unknowns. Quantities are as they are typed.
type Question struct {
	// Seed decides all that is left to chance.
	Seed   string `json:"seed"`
	Groups int    `json:"groups"`
	// Levels is how many strengths there are; 0 for as many as five, or as there are groups.
	Levels int `json:"levels,omitempty"`
	// Stock is the strength of what is diluted; the unknowns lie between Low and High.
	Stock quantity.Stated `json:"stock"`
	Low   quantity.Stated `json:"low"`
	High  quantity.Stated `json:"high"`
	// Each is what one group gets.
	Each quantity.Stated `json:"each"`
	// Within is how well the method finds a strength: its expanded uncertainty (k = 2) in %.
	Within float64 `json:"within"`
	// Glass are the pipettes and flasks that are there, of which those of Class are used; none where any is there.
	Glass      []glassware.Item   `json:"glass,omitempty"`
	Class      glassware.Class    `json:"class"`
	Thresholds verdict.Thresholds `json:"thresholds,omitempty"`
}

// Level is one strength, and how it is made.
type Level struct {
	Letter   string  `json:"letter"`
	Strength float64 `json:"strength"`
	// Pipette is filled Times times and made up in Flask, all in mL.
	Pipette float64 `json:"pipette"`
	Times   int     `json:"times"`
	Flask   float64 `json:"flask"`
	Groups  int     `json:"groups"`
}

// Made says how a level is made: “25 mL twice to 250 mL”.
func (l Level) Made() string {
	times := ""
	switch l.Times {
	case 1:
	case 2:
		times = " twice"
	default:
		times = fmt.Sprintf(" %d times", l.Times)
	}
	return fmt.Sprintf("%s mL%s to %s mL", quantity.Trim(l.Pipette), times, quantity.Trim(l.Flask))
}

// Bottle is the unknown of one group, by the number on it.
type Bottle struct {
	Group int    `json:"group"` // from 1
	Code  int    `json:"code"`
	Level string `json:"level"` // its letter
}

// Set is what the seed gives.
type Set struct {
	Unit   string  `json:"unit"` // of the strengths
	Levels []Level `json:"levels"`
	// Bottles stand in the order of the groups.
	Bottles []Bottle `json:"bottles"`
	// Stock is how much of the stock it takes, in mL.
	Stock float64 `json:"stock"`
	// Apart is the smallest distance of two levels, in units of what the method leaves open of both.
	Apart float64 `json:"apart"`
}

// Bounds of a question.
const (
	mostGroups = 60
	mostLevels = 12
	usualMost  = 5
	mostTimes  = 3
	mostSeed   = 100
	near       = 1.03 // so much more is made than what the groups get: a bottle is rinsed with it (common practice)
)

// read is a question that was read: strengths in the unit of the stock, volumes in mL.
type read struct {
	Question
	stock, low, high, each float64
	unit                   quantity.Unit
}

// strengths are the dimensions in which unknowns may be stated.
var strengths = []quantity.Dimension{quantity.AmountConcentration, quantity.MassConcentration}

func (q Question) read() (read, error) {
	r := read{Question: q}
	var p verdict.Problems
	if strings.TrimSpace(q.Seed) == "" || len(q.Seed) > mostSeed {
		p.Add("/seed", "a seed is a word or a number of up to %d characters", mostSeed)
	}
	if q.Groups < 2 || q.Groups > mostGroups {
		p.Add("/groups", "unknowns are for 2 to %d groups", mostGroups)
	}
	if q.Levels == 0 {
		r.Levels = min(usualMost, q.Groups)
	}
	if r.Levels < 2 || r.Levels > mostLevels || r.Levels > max(2, q.Groups) {
		p.Add("/levels", "from 2 to %d strengths, and no more than groups", mostLevels)
	}
	each, err := q.Each.Read(quantity.Volume)
	if err != nil {
		p.Add("/each", "%s", err)
	} else if r.each = each.In("mL"); !(r.each >= 1 && r.each <= 1000) {
		p.Add("/each", "a group gets from 1 mL to 1 L")
	}
	if !(q.Within >= 0.05 && q.Within <= 30) {
		p.Add("/within", "a method finds a strength within 0.05 to 30 %%, like 1 %% of a titration with a 25 mL burette")
	}
	if q.Class != glassware.ClassA && q.Class != glassware.ClassB {
		p.Add("/class", "glass is of class A or class B")
	}
	r.readStrengths(&p)
	return r, p.OrNil()
}

// readStrengths reads the stock and the range, in the unit of the stock.
func (r *read) readStrengths(p *verdict.Problems) {
	strength := func(s quantity.Stated, field string) quantity.Quantity {
		x, err := s.Read(strengths...)
		switch {
		case err != nil:
			p.Add(field, "%s", err)
		case !(x.Value > 0):
			p.Add(field, "a strength is above nothing, like 0.1 mol/L")
		}
		return x
	}
	stock, low, high := strength(r.Stock, "/stock"), strength(r.Low, "/low"), strength(r.High, "/high")
	if len(*p) > 0 {
		return
	}
	r.unit = stock.Unit
	for _, x := range []struct {
		of    quantity.Quantity
		field string
		to    *float64
	}{{stock, "/stock", &r.stock}, {low, "/low", &r.low}, {high, "/high", &r.high}} {
		if x.of.Unit.Dimension != stock.Unit.Dimension {
			p.Add(x.field, "state all three on one basis: the stock is in %s", stock.Unit.Symbol)
			continue
		}
		*x.to = x.of.Base() / stock.Unit.Factor
	}
	switch {
	case len(*p) > 0:
	case !(r.high > r.low):
		p.Add("/high", "the unknowns go from a lower strength to a higher one")
	case r.low >= r.stock:
		p.Add("/low", "nothing is stronger than the stock it is made from")
	}
}

// Find gives each group its unknown. An error is a verdict.Problems: what cannot be asked, or why there are no such
// unknowns and what would help. The strengths are in the unit of the stock.
func Find(q Question) (Set, error) {
	r, err := q.read()
	if err != nil {
		return Set{}, err
	}
	sum := sha256.Sum256([]byte(q.Seed))
	source := rand.NewPCG(binary.LittleEndian.Uint64(sum[:8]), binary.LittleEndian.Uint64(sum[8:16]))
	draw := rand.New(source) //nolint:gosec // a seed gives the same again
	possible := r.possible()
	chosen := r.choose(possible, draw)
	if chosen == nil {
		return Set{}, r.none(possible)
	}
	set := Set{Unit: r.unit.Symbol, Levels: chosen, Apart: math.Inf(1)}
	draw.Shuffle(len(chosen), func(i, j int) { chosen[i], chosen[j] = chosen[j], chosen[i] }) // the letters tell nothing
	for i := range chosen {
		chosen[i].Letter = string(rune('A' + i))
		set.Stock += chosen[i].Pipette * float64(chosen[i].Times)
		for _, other := range chosen[:i] {
			set.Apart = min(set.Apart, r.apart(chosen[i].Strength, other.Strength))
		}
	}
	codes := draw.Perm(900)
	for i, level := range shareOut(r.Groups, len(chosen), draw) {
		chosen[level].Groups++
		set.Bottles = append(set.Bottles, Bottle{Group: i + 1, Code: 100 + codes[i], Level: chosen[level].Letter})
	}
	return set, nil
}

// apart is how far two strengths are apart, in units of what the method leaves open of both.
func (r read) apart(a, b float64) float64 {
	return math.Abs(a-b) / (r.Within / 100 * math.Hypot(a, b))
}

// possible are the strengths in the range that one dilution gives, by rising strength; each the way with the smallest flask
// and the fewest fillings.
func (r read) possible() []Level {
	need := r.each * near * math.Ceil(float64(r.Groups)/float64(r.Levels))
	var pipettes []float64
	for _, item := range r.Glass {
		if item.Kind == glassware.OneMarkPipette && item.Class == r.Class && !slices.Contains(pipettes, item.Volume) {
			pipettes = append(pipettes, item.Volume)
		}
	}
	if len(r.Glass) == 0 {
		pipettes = glassware.OneMarkVolumes()
	}
	var list []Level
	for _, flask := range glassware.Flasks(r.Glass).Volumes(r.Class) {
		if flask < need {
			continue
		}
		for _, pipette := range pipettes {
			for times := 1; times <= mostTimes; times++ {
				c := r.stock * pipette * float64(times) / flask
				if taken := pipette * float64(times); taken < flask && c >= r.low*(1-1e-9) && c <= r.high*(1+1e-9) {
					list = append(list, Level{Strength: quantity.Significant(c, 8), Pipette: pipette, Times: times, Flask: flask})
				}
			}
		}
	}
	slices.SortFunc(list, func(a, b Level) int {
		return cmp.Or(cmp.Compare(a.Strength, b.Strength), cmp.Compare(a.Flask, b.Flask), a.Times-b.Times)
	})
	return slices.CompactFunc(list, func(a, b Level) bool { return math.Abs(b.Strength-a.Strength) <= 1e-7*a.Strength })
}

// choose draws one of all sets of so many levels that are far enough apart, each with the same chance; nil where there is
// none. ways[k][i] is how many sets of k+1 levels begin with the i-th.
func (r read) choose(list []Level, draw *rand.Rand) []Level {
	margin := r.Thresholds.Of(RuleApart)
	n := len(list)
	ways := make([][]float64, r.Levels)
	for k := range ways {
		ways[k] = make([]float64, n)
		for i := range n {
			if k == 0 {
				ways[k][i] = 1
				continue
			}
			for j := i + 1; j < n; j++ {
				if r.apart(list[i].Strength, list[j].Strength) >= margin {
					ways[k][i] += ways[k-1][j]
				}
			}
		}
	}
	var chosen []Level
	last := -1
	for k := r.Levels - 1; k >= 0; k-- {
		weights := slices.Clone(ways[k])
		sum := 0.0
		for i := range weights {
			if i <= last || last >= 0 && r.apart(list[last].Strength, list[i].Strength) < margin {
				weights[i] = 0
			}
			sum += weights[i]
		}
		if sum == 0 {
			return nil
		}
		at := draw.Float64() * sum
		last = slices.IndexFunc(weights, func(w float64) bool { at -= w; return w > 0 && at < 0 })
		if last < 0 { // by rounding
			return nil
		}
		chosen = append(chosen, list[last])
	}
	return chosen
}

// none says why there are no such unknowns.
func (r read) none(list []Level) error {
	if len(list) == 0 {
		return verdict.Problems{{Field: "/low", Reason: fmt.Sprintf(
			"no pipette and flask here give a strength between these from %s %s, with enough in a flask for %s: widen the range, or take more strengths",
			quantity.Trim(quantity.Significant(r.stock, 4)), r.unit.Symbol, r.sharing())}}
	}
	most, last := 0, math.Inf(-1)
	for _, l := range list { // the lowest that is far enough from the one before leaves the most room
		if math.IsInf(last, -1) || r.apart(l.Strength, last) >= r.Thresholds.Of(RuleApart) {
			most, last = most+1, l.Strength
		}
	}
	return verdict.Problems{{Field: "/levels", Reason: fmt.Sprintf(
		"a method within ± %g %% tells %d strengths of this range apart, not %d: widen the range, or take fewer", r.Within, most, r.Levels)}}
}

// sharing is how many groups share a flask at most, in words.
func (r read) sharing() string {
	if n := int(math.Ceil(float64(r.Groups) / float64(r.Levels))); n > 1 {
		return fmt.Sprintf("%d groups", n)
	}
	return "a group"
}

// shareOut gives each group one of the levels, each as often as any other or once more, no two neighbours the same.
func shareOut(groups, levels int, draw *rand.Rand) []int {
	left := make([]int, levels)
	for i, level := range draw.Perm(levels) {
		left[level] = groups / levels
		if i < groups%levels {
			left[level]++
		}
	}
	list := make([]int, groups)
	last := -1
	for i := range list {
		rest := groups - i - 1
		var may []int
		for level, n := range left {
			if n == 0 || level == last {
				continue
			}
			left[level]--
			if fits(left, level, rest) {
				may = append(may, level)
			}
			left[level]++
		}
		last = may[draw.IntN(len(may))]
		left[last]--
		list[i] = last
	}
	return list
}

// fits reports whether the rest can be shared out after a level with no two neighbours the same: none of the levels is left
// for more than every second place, the one that was just given for those from the second on.
func fits(left []int, last, rest int) bool {
	for level, n := range left {
		if level == last && n > rest/2 || n > (rest+1)/2 {
			return false
		}
	}
	return true
}
