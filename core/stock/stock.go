package stock

import (
	"cmp"
	"math"
	"slices"
	"strings"
	"time"

	"vialbench/core/quantity"
	"vialbench/core/substance"
	"vialbench/core/verdict"
)

// Unit is what something is counted in.
type Unit string

// The units of the store.
const (
	Grams       Unit = "g"
	Millilitres Unit = "mL"
	Pieces      Unit = "pieces"
)

// Article is something that the lab keeps in its store.
type Article struct {
	Name string `json:"name"`
	// Key is that of the substance that it is; empty of what is none.
	Key  string `json:"key,omitempty"`
	Unit Unit   `json:"unit"`
	// Minimum is what has to be there, in Unit; 0 where nothing has to.
	Minimum float64 `json:"minimum"`
	// LeadDays is how many days an order takes.
	LeadDays int `json:"leadDays"`
}

// Container is one bottle, tub or box of an article.
type Container struct {
	ID     string  `json:"id"`
	Number int64   `json:"number"`
	Left   float64 `json:"left"`
	// Opened and Expires are days, YYYY-MM-DD; empty where nobody said so.
	Opened  string `json:"opened,omitempty"`
	Expires string `json:"expires,omitempty"`
	Place   string `json:"place,omitempty"`
}

// Entry is an amount at a time: what was counted, or what was taken.
type Entry struct {
	Amount float64
	At     time.Time
}

// Left is what is left of what was counted last when so much was taken; less than nothing where more was taken
// than was there.
func Left(counted Entry, taken []Entry) float64 {
	left := counted.Amount
	for _, t := range taken {
		if t.At.After(counted.At) {
			left -= t.Amount
		}
	}
	return math.Round(left*1e6) / 1e6
}

// Bounds of the store. MostHeld is how much a container can hold, in its unit.
const (
	mostName  = 120
	mostPlace = 80
	MostHeld  = 1e6
	mostLead  = 365
)

// Check reports what cannot be kept; known are the substances of the lab. An error is a verdict.Problems.
func (a Article) Check(known []substance.Substance) error {
	var p verdict.Problems
	if n := len([]rune(strings.TrimSpace(a.Name))); n == 0 || n > mostName {
		p.Add("/name", "it needs a name of up to %d characters, like “Sodium chloride”", mostName)
	}
	if !slices.Contains([]Unit{Grams, Millilitres, Pieces}, a.Unit) {
		p.Add("/unit", "it is counted in g, in mL or in pieces")
	} else if a.Key != "" {
		i := slices.IndexFunc(known, func(s substance.Substance) bool { return s.Key == a.Key })
		switch {
		case i < 0:
			p.Add("/key", "no substance of this lab has that key")
		case known[i].Liquid && a.Unit != Millilitres:
			p.Add("/unit", "%s is a liquid: runs take it in mL", known[i].Name)
		case !known[i].Liquid && a.Unit != Grams:
			p.Add("/unit", "%s is a solid: runs take it in g", known[i].Name)
		}
	}
	if !(a.Minimum >= 0 && a.Minimum <= MostHeld) {
		p.Add("/minimum", "a minimum is nothing or more, up to %d", int(MostHeld))
	}
	if a.LeadDays < 0 || a.LeadDays > mostLead {
		p.Add("/leadDays", "an order takes from 0 to %d days", mostLead)
	}
	return p.OrNil()
}

// Check reports what cannot be kept of a container.
func (c Container) Check() error {
	var p verdict.Problems
	if len([]rune(c.Place)) > mostPlace {
		p.Add("/place", "a place has up to %d characters, like “cupboard 3”", mostPlace)
	}
	for field, day := range map[string]string{"/opened": c.Opened, "/expires": c.Expires} {
		if _, err := time.Parse(time.DateOnly, day); day != "" && err != nil {
			p.Add(field, "a day, like 2027-03-31, or nothing")
		}
	}
	slices.SortFunc(p, func(a, b verdict.Problem) int { return cmp.Compare(a.Field, b.Field) })
	return p.OrNil()
}

// Read reads an amount as it is typed, in the unit of the article where it says none: “250 g”, “0.5 kg”, “12”. Errors
// say what would be right.
func (u Unit) Read(text string) (float64, error) {
	var p verdict.Problems
	var amount float64
	var err error
	switch u {
	case Grams:
		var q quantity.Quantity
		q, err = quantity.Parse(text, quantity.Mass, string(u))
		amount = q.In("g")
	case Millilitres:
		var q quantity.Quantity
		q, err = quantity.Parse(text, quantity.Volume, string(u))
		amount = q.In("mL")
	case Pieces:
		number, _ := strings.CutSuffix(strings.TrimSpace(text), "pieces")
		amount, err = quantity.Number(strings.TrimSpace(number))
		if err == nil && amount != math.Trunc(amount) {
			p.Add("/amount", "pieces are counted whole")
		}
	}
	switch {
	case err != nil:
		p.Add("/amount", "%s", err)
	case !(amount >= 0 && amount <= MostHeld):
		p.Add("/amount", "a container holds from nothing to %s", u.Say(MostHeld))
	}
	return math.Round(amount*1e6) / 1e6, p.OrNil()
}

// Say writes an amount: “250 g”, “1 piece”.
func (u Unit) Say(amount float64) string {
	if u == Pieces && amount == 1 {
		return "1 piece"
	}
	digits := 4
	if math.Abs(amount) >= 1e4 {
		digits = 7
	}
	return quantity.Trim(quantity.Significant(amount, digits)) + " " + string(u)
}

// expired reports whether a container has expired on a day.
func (c Container) expired(day string) bool { return c.Expires != "" && c.Expires < day }

// From is the place of the container that an amount is taken from on a day: one that is open before one that is not (rule
// ST-5), what expires first before the rest, and of those the first that holds enough; −1 where there is none.
func From(list []Container, amount float64, day string) int {
	order := make([]int, len(list))
	for i := range list {
		order[i] = i
	}
	const never = "9999-12-31"
	slices.SortStableFunc(order, func(i, k int) int {
		a, b := list[i], list[k]
		return cmp.Or(
			btoi(a.expired(day))-btoi(b.expired(day)), btoi(a.Left <= 0)-btoi(b.Left <= 0),
			cmp.Compare(cmp.Or(a.Opened, never), cmp.Or(b.Opened, never)),
			cmp.Compare(cmp.Or(a.Expires, never), cmp.Or(b.Expires, never)), cmp.Compare(a.Number, b.Number),
		)
	})
	for _, i := range order {
		if c := list[i]; c.Left >= amount && !c.expired(day) {
			return i
		}
	}
	if len(order) == 0 {
		return -1
	}
	return order[0]
}

func btoi(b bool) int {
	if b {
		return 1
	}
	return 0
}
