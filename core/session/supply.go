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
	// Stock is what the store is known to hold; a substance that is not among it is taken to be there.
	Stock []Stock `json:"stock,omitempty"`
	// begun are the items that are being made: what they take has left the store.
	begun []string
}

// Stock is what the store holds of a substance, by its key.
type Stock struct {
	Key  string  `json:"key"`
	Left float64 `json:"left"`
	Unit string  `json:"unit"`
}

// Draw is what is taken of a substance out of the store: in g of a solid, in mL of a liquid.
type Draw struct {
	Key    string  `json:"key"`
	Name   string  `json:"name"`
	Amount float64 `json:"amount"`
	Unit   string  `json:"unit"`
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
	// Draws is what is weighed or measured of the substance; nil where it is not made from one.
	Draws *Draw `json:"draws,omitempty"`
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
	store.Bottles, store.Stock = slices.Clone(store.Bottles), slices.Clone(store.Stock)
	list := make([]Supply, len(needs))
	for i, need := range needs {
		l, _ := s.Items[i].read()
		w := ways{
			store: store, liquid: l, day: s.Starts.Format("2006-01-02"), need: need.Total, rules: rules, splits: map[float64]split{},
		}
		list[i] = w.supply()
		o := list[i].taken()
		if o == nil {
			continue
		}
		for _, take := range o.Takes {
			k := slices.IndexFunc(store.Bottles, func(b Bottle) bool { return b.ID == take.Bottle })
			store.Bottles[k].Promised += take.ML
		}
		if i := store.held(o.Draws); i >= 0 {
			store.Stock[i].Left -= o.Draws.Amount
		}
	}
	return list
}

// draws is what it takes of a substance out of the store: by the way that is taken or, where nothing serves, to make it.
func (s Supply) draws() *Draw {
	if o := s.taken(); o != nil {
		return o.Draws
	}
	for _, o := range s.Options {
		if o.Draws != nil {
			return o.Draws
		}
	}
	return nil
}

// held is the place of what the store holds of a substance; −1 of what it is not known to hold.
func (store Store) held(d *Draw) int {
	return slices.IndexFunc(store.Stock, func(s Stock) bool { return d != nil && s.Key == d.Key && s.Unit == d.Unit })
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
