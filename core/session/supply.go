package session

import (
	"slices"

	"vialbench/core/glassware"
	"vialbench/core/substance"
	"vialbench/core/verdict"
)

// Bottle is what stands on the shelf.
type Bottle struct {
	ID     string `json:"id"`
	Number int64  `json:"number"`
	Name   string `json:"name"` // of what is in it
	// Strength in Unit; 0 of what has none. PH is that of a buffer, or 0.
	Strength float64 `json:"strength"`
	Unit     string  `json:"unit"`
	PH       float64 `json:"pH"`
	// Left is how much is left, Promised how much of that other sessions were promised, in mL.
	Left     float64 `json:"left"`
	Promised float64 `json:"promised"`
	// Known reports whether its strength is exact or was standardised; Until is the last day on which it is, and
	// Keeps the last day on which it can be used, YYYY-MM-DD; empty of none.
	Known bool   `json:"known"`
	Until string `json:"until,omitempty"`
	Keeps string `json:"keeps,omitempty"`
}

// Store is what a lab has to supply a session from.
type Store struct {
	Bottles []Bottle           `json:"bottles"`
	Flasks  glassware.Cupboard `json:"flasks"`
	Class   glassware.Class    `json:"class"`
	// Glass is what dilutions are measured with; none where any is there.
	Glass      []glassware.Item      `json:"glass,omitempty"`
	Substances []substance.Substance `json:"substances"`
	// Balances, Meters and Burettes are how many there are; Burettes of at least each size are counted.
	Balances int     `json:"balances"`
	Meters   int     `json:"meters"`
	Pieces   []Piece `json:"pieces"`
}

// Piece is glass that a lab has: so many of a kind and a size.
type Piece struct {
	Glass  Glass   `json:"glass"`
	Size   float64 `json:"size"` // mL
	Number int     `json:"number"`
}

// How an item is supplied.
const (
	byBottle = "bottle"
	byDilute = "dilute"
	byMaking = "make"
)

// Option is a way to supply an item.
type Option struct {
	// From is what an [Item] names to choose it.
	From string `json:"from"`
	How  string `json:"how"`
	// Takes is what is taken of bottles: the one that is diluted first, then those that serve as they are.
	Takes []Take `json:"takes"`
	// Wanted is the strength that a bottle is diluted to, in the unit of that bottle.
	Wanted string `json:"wanted,omitempty"`
	// Key is that of the substance that is weighed or measured.
	Key string `json:"key,omitempty"`
	// Flasks are filled one after another, in mL.
	Flasks []float64 `json:"flasks,omitempty"`
	// Serves reports whether it does; where it does not, Sentence says why.
	Serves   bool   `json:"serves"`
	Sentence string `json:"sentence"`
	// Standardise reports whether the strength has to be found yet.
	Standardise bool `json:"standardise,omitempty"`
}

// Take is what is taken of a bottle.
type Take struct {
	Bottle string  `json:"bottle"`
	Number int64   `json:"number"`
	ML     float64 `json:"mL"`
	// Standardise reports whether its strength has to be found yet.
	Standardise bool `json:"standardise,omitempty"`
}

// Supply is how an item can be supplied, the best way first, and which way was taken.
type Supply struct {
	Item    string   `json:"item"`
	Options []Option `json:"options"`
	// Chosen is the place of the way that is taken; −1 where none serves: the item is short.
	Chosen int `json:"chosen"`
	// Short says what is missing, and what would mend it; empty where nothing is.
	Short string `json:"short,omitempty"`
}

// taken is the way that is taken; nil where there is none.
func (s Supply) taken() *Option {
	if s.Chosen < 0 {
		return nil
	}
	return &s.Options[s.Chosen]
}

// Supplies finds how each item can be supplied, in the order of the items. What one item takes is not there
// for the next.
func (store Store) Supplies(s Session, needs []Need, rules verdict.Thresholds) []Supply {
	store.Bottles = slices.Clone(store.Bottles)
	list := make([]Supply, len(needs))
	for i, need := range needs {
		l, _ := s.Items[i].read()
		w := ways{store: store, liquid: l, day: s.Starts.Format("2006-01-02"), need: need.Total, rules: rules}
		list[i] = w.supply()
		o := list[i].taken()
		if o == nil {
			continue
		}
		for _, take := range o.Takes {
			k := slices.IndexFunc(store.Bottles, func(b Bottle) bool { return b.ID == take.Bottle })
			store.Bottles[k].Promised += take.ML
		}
	}
	return list
}

// rank puts what serves first, and of that a bottle as it is before one that is diluted, and that before
// what is made.
func (o Option) rank() int {
	rank := slices.Index([]string{byBottle, byDilute, byMaking}, o.How)
	if o.Standardise && o.How == byBottle {
		rank++ // as much work as diluting one whose strength is known
	}
	if !o.Serves {
		rank += 10
	}
	return rank
}
