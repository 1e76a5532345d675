package slip

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

// What is assumed beforehand: how likely a result has no slip, one of the list, two of them, or something else.
const (
	priorNone = 0.75
	priorOne  = 0.18
	priorTwo  = 0.02
	priorElse = 0.05
)

const (
	// decades is how far something else may be off.
	decades = 4
	// learnAfter is how many confirmed results count as much as what is assumed of slips beforehand.
	learnAfter = 20
	// mostCauses is how many are told.
	mostCauses = 5
	// mostPaired is how many single slips are tried two by two, the likeliest first.
	mostPaired = 300
	// leastShare is from which a cause is told.
	leastShare = 0.01
	// repeats is the standard deviation of trials that agree, in mL (common practice: within 0.10 mL of one another).
	repeats = 0.05
)

// Case is a result to be traced. All values are in Unit.
type Case struct {
	Unit string
	// Root is how the result is worked out.
	Root Step
	// Stated is the result as it was handed in, to within ± Half by its digits; nil where none was.
	Stated *float64
	Half   float64
	// Scatter is the standard uncertainty with which the figures are known, where they are not what was written down but
	// what should have been found; 0 else.
	Scatter float64
	// U is the expanded uncertainty of the method (k = 2); 0 where none is known.
	U float64
	// True is what the bottle held, with TrueU; nil where nobody knows. Others are what the bottles of others held.
	True   *float64
	TrueU  float64
	Others []Bottle
	// Confirmed is how often this laboratory confirmed a slip, by its ID.
	Confirmed  map[string]int
	Thresholds verdict.Thresholds
}

// Bottle is that of another group.
type Bottle struct {
	Of    string  `json:"of"`
	Value float64 `json:"value"`
}

// Cause is a slip that would explain a result, or two of them.
type Cause struct {
	// Slips by their IDs, with what they are in words.
	Slips []string `json:"slips"`
	Title string   `json:"title"`
	// Gives is the result that it predicts or, of the hands, what the figures would have given without it.
	Gives float64 `json:"gives"`
	// Share is how likely it is, from 0 to 1; Bayes how much better it explains the result than scatter alone.
	Share float64 `json:"share"`
	Bayes float64 `json:"bayes"` // at most 10¹²
	// Alike are other causes that predict the same: the figures cannot tell them apart.
	Alike []string `json:"alike,omitempty"`
	// Sentence is for the instructor, Hint asks the group.
	Sentence string `json:"sentence"`
	Hint     string `json:"hint"`
}

// Traced is what was found of a result.
type Traced struct {
	// Calculated is what the figures give.
	Calculated float64 `json:"calculated"`
	// Follows reports whether the result that was stated follows from the figures; Agrees whether what they give agrees
	// with the true value. Nil where that cannot be said.
	Follows *bool `json:"follows,omitempty"`
	Agrees  *bool `json:"agrees,omitempty"`
	// Working and Hands are the causes, the likeliest first. Named reports whether the first is likely enough to be named.
	Working      []Cause `json:"working"`
	WorkingNamed bool    `json:"workingNamed"`
	Hands        []Cause `json:"hands"`
	HandsNamed   bool    `json:"handsNamed"`
	// Impossible are figures that cannot be, in sentences.
	Impossible []string `json:"impossible"`
}

// chance is one thing that can have happened at one step.
type chance struct {
	slip    *Slip
	at      int
	says    string
	instead func(float64, []float64) float64
	prior   float64
	gives   float64
	// agree is how much likelier the trials agree as they do than they would without it.
	agree float64
}

// Trace finds what explains a result.
func Trace(c Case) Traced {
	w := layOut(&c.Root)
	t := Traced{Calculated: w.result(), Impossible: impossible(w), Working: []Cause{}, Hands: []Cause{}}
	if c.Stated != nil {
		s := *c.Stated
		chances := w.chances(working, c.Confirmed)
		width := func(gives float64) float64 {
			own := c.Thresholds.Of(RuleOwnRounding) / 100 * math.Abs(gives)
			return math.Hypot(math.Hypot(c.Half/math.Sqrt(3), own), c.Scatter)
		}
		odds := weigh(w, chances, s, func(gives float64) float64 { return normal(s, gives, width(gives)) }, width, true)
		t.Working, t.WorkingNamed = c.tell(odds, width, "%s would be explained by %s: that gives %s.", s)
		follows := odds.none >= 0.5
		t.Follows = &follows
	}
	if c.True != nil {
		sigma := c.sigma(t.Calculated)
		chances := w.chances(hands, c.Confirmed)
		width := func(float64) float64 { return sigma }
		odds := weigh(w, chances, t.Calculated, func(gives float64) float64 { return normal(*c.True, gives, sigma) }, width, false)
		odds.others(c, t.Calculated, sigma)
		t.Hands, t.HandsNamed = c.tell(odds, width, "%s would be explained by %s: without it the figures give %s.", t.Calculated)
		agrees := odds.none >= 0.5
		t.Agrees = &agrees
	}
	return t
}

// sigma is the standard uncertainty of what figures give against the true value.
func (c Case) sigma(calculated float64) float64 {
	u := c.U / 2
	if u == 0 {
		u = c.Thresholds.Of(RuleHands) / 200 * math.Abs(calculated)
	}
	return math.Hypot(u, c.TrueU/2)
}

func normal(x, mean, sd float64) float64 {
	q := (x - mean) / sd
	return math.Exp(-q*q/2) / (sd * math.Sqrt(2*math.Pi))
}

// chances lists all that can have happened, each with its prior: that of a slip is shared among its places.
func (w *sheet) chances(slips []Slip, confirmed map[string]int) []chance {
	var list []chance
	total := 0.0
	for i := range slips {
		first := len(list)
		for at, s := range w.steps {
			slips[i].at(s, func(says string, instead func(float64, []float64) float64) {
				list = append(list, chance{slip: &slips[i], at: at, says: says, instead: instead})
			})
		}
		if n := len(list) - first; n > 0 {
			for k := first; k < len(list); k++ {
				list[k].prior = slips[i].Often / float64(n)
			}
			total += slips[i].Often
		}
	}
	// What was confirmed here adds to what is assumed, so that one of learnAfter weighs as much as one in so many before.
	places := map[*Slip]float64{}
	for i := range list {
		places[list[i].slip]++
	}
	sum := 0.0
	for i := range list {
		list[i].prior = list[i].prior/total*learnAfter + float64(confirmed[list[i].slip.ID])/places[list[i].slip]
		sum += list[i].prior
	}
	for i := range list {
		list[i].prior /= sum
		list[i].gives = w.with(&list[i])
		apart := w.scatter(w.room) - w.scatter(w.values)
		list[i].agree = math.Exp(-apart / 2)
	}
	return list
}

// odd is a cause with how likely it is.
type odd struct {
	chances []*chance
	gives   float64
	weight  float64
	bayes   float64
	title   string // of one without a chance
	hint    string
}

type odds struct {
	list []odd
	none float64 // share of no slip at all
	base float64 // likelihood of no slip
	sum  float64 // of all weights
}

// weigh weighs all chances, and pairs of them, against no slip and against something else.
func weigh(w *sheet, chances []chance, s float64, likely, width func(float64) float64, pairs bool) *odds {
	honest := w.result()
	o := &odds{base: likely(honest)}
	o.none = priorNone * o.base
	o.sum = o.none + priorElse/(math.Max(math.Abs(s), math.SmallestNonzeroFloat64)*decades*math.Ln10)
	add := func(prior, gives float64, list ...*chance) {
		l := likely(gives)
		if weight := prior * l; weight > 0 && !math.IsNaN(gives) && !math.IsInf(gives, 0) {
			o.list = append(o.list, odd{chances: list, gives: gives, weight: weight, bayes: o.better(l)})
			o.sum += weight
		}
	}
	for i := range chances {
		// What changes nothing that could be seen is no cause.
		if math.Abs(chances[i].gives-honest) > width(honest) {
			prior := priorOne * chances[i].prior
			if !pairs { // of the hands: what a trial would have been has to agree with the others
				prior *= chances[i].agree
			}
			add(prior, chances[i].gives, &chances[i])
		}
	}
	if pairs {
		w.pairs(chances, honest, width, add)
	}
	o.none /= o.sum
	return o
}

// mostBayes is the largest factor that is told: beyond it, it says nothing more.
const mostBayes = 1e12

// better is how much better than no slip something explains a result, by its likelihood.
func (o *odds) better(likelihood float64) float64 {
	if !(o.base*mostBayes > likelihood) {
		return mostBayes
	}
	return likelihood / o.base
}

// pairs adds every two slips that change something each.
func (w *sheet) pairs(chances []chance, honest float64, width func(float64) float64, add func(float64, float64, ...*chance)) {
	var some []*chance
	for i := range chances {
		c := &chances[i]
		if gives := c.gives; math.Abs(gives-honest) > width(honest) && !math.IsNaN(gives) && !math.IsInf(gives, 0) {
			some = append(some, c)
		}
	}
	if len(some) > mostPaired {
		slices.SortStableFunc(some, func(a, b *chance) int { return cmp.Compare(b.prior, a.prior) })
		some = some[:mostPaired]
	}
	for i, a := range some {
		for _, b := range some[:i] {
			if a.slip == b.slip || a.at == b.at {
				continue
			}
			add(2*priorTwo*a.prior*b.prior, w.with(a, b), a, b)
		}
	}
}

// others adds that the bottle of another group was measured.
func (o *odds) others(c Case, calculated, sigma float64) {
	o.none *= o.sum
	for _, b := range c.Others {
		if math.Abs(b.Value-*c.True) <= sigma {
			continue
		}
		l := normal(b.Value, calculated, sigma)
		weight := priorOne * 0.1 / float64(len(c.Others)) * l
		o.list = append(o.list, odd{
			gives: *c.True, weight: weight, bayes: o.better(l),
			title: "the bottle of " + b.Of + " taken", hint: "What number stands on your bottle?",
		})
		o.sum += weight
	}
	o.none /= o.sum
}

// tell names the causes, those that predict the same together.
func (c Case) tell(o *odds, width func(float64) float64, sentence string, s float64) (list []Cause, named bool) {
	slices.SortStableFunc(o.list, func(a, b odd) int { return cmp.Compare(b.weight, a.weight) })
	for _, x := range o.list {
		title, hint, ids := x.says()
		share := x.weight / o.sum
		// What predicts the same stands with the likeliest of its kind.
		k := slices.IndexFunc(list, func(l Cause) bool {
			return len(l.Slips) == len(ids) && math.Abs(l.Gives-x.gives) < width(x.gives)/2
		})
		if k >= 0 {
			list[k].Share += share
			known := title == list[k].Title || slices.Contains(list[k].Alike, title)
			if !known && len(list[k].Alike) < mostCauses && share > leastShare*list[k].Share {
				list[k].Alike = append(list[k].Alike, title)
			}
			continue
		}
		if len(list) == mostCauses || share < leastShare/10 {
			continue
		}
		list = append(list, Cause{Slips: ids, Title: title, Gives: x.gives, Share: share, Bayes: x.bayes, Hint: hint})
	}
	slices.SortStableFunc(list, func(a, b Cause) int { return cmp.Compare(b.Share, a.Share) })
	list = slices.DeleteFunc(list, func(l Cause) bool { return l.Share < leastShare })
	for i := range list {
		list[i].Sentence = fmt.Sprintf(sentence, c.say(s), list[i].Title, c.say(list[i].Gives))
		if len(list[i].Alike) > 0 {
			list[i].Sentence += " The figures cannot tell it from " + strings.Join(list[i].Alike, ", or ") + "."
		}
	}
	if list == nil {
		list = []Cause{}
	}
	return list, len(list) > 0 && 100*list[0].Share >= c.Thresholds.Of(RuleNamed)
}

// AnotherBottle is the ID of the slip that the bottle of another group was measured.
const AnotherBottle = "another bottle"

// says is a cause in words.
func (x odd) says() (title, hint string, ids []string) {
	if len(x.chances) == 0 {
		return x.title, x.hint, []string{AnotherBottle}
	}
	var titles, hints []string
	for _, c := range x.chances {
		title := c.slip.Title
		if c.says != "" {
			title += " (" + c.says + ")"
		}
		titles, ids = append(titles, title), append(ids, c.slip.ID)
		if !slices.Contains(hints, c.slip.Hint) {
			hints = append(hints, c.slip.Hint)
		}
	}
	return strings.Join(titles, " and "), strings.Join(hints, " "), ids
}

// say writes a result with four digits.
func (c Case) say(x float64) string {
	if c.Unit == "pH" {
		return "pH " + quantity.Digits(x, 2)
	}
	return strings.TrimSpace(quantity.Trim(quantity.Significant(x, 4)) + " " + c.Unit)
}

// impossible lists the figures that no instrument shows.
func impossible(w *sheet) []string {
	list := []string{}
	for at, s := range w.steps {
		figure := s.Name + ", " + quantity.Digits(s.Value, s.Decimals) + " " + s.Unit
		switch {
		case s.Role == Titre && w.values[at] <= 0:
			list = append(list, s.Name+" ends where it begins, or before: a burette does not run back")
		case s.Op != Figure:
		case s.Most > 0 && s.Value > s.Most:
			list = append(list, fmt.Sprintf("%s, is beyond the end of the scale, %s %s", figure, quantity.Trim(s.Most), s.Unit))
		case s.Value < s.Least:
			list = append(list, fmt.Sprintf("%s, is less than can be, %s %s", figure, quantity.Trim(s.Least), s.Unit))
		case s.Division > 0 && finer(s.Value, s.Division):
			list = append(list, fmt.Sprintf("%s, has more digits than can be read: steps of %s %s", figure, quantity.Trim(s.Division), s.Unit))
		}
	}
	return list
}

// finer reports whether a figure has digits below a division.
func finer(value, division float64) bool {
	steps := value / division
	return math.Abs(steps-math.Round(steps)) > 1e-6*math.Max(1, math.Abs(steps))
}
