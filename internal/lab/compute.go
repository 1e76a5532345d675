package lab

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"vialbench/core/comparison"
	"vialbench/core/formula"
	"vialbench/core/quantity"
	"vialbench/core/schedule"
	"vialbench/core/session"
	"vialbench/core/slip"
	"vialbench/core/unknowns"
	"vialbench/core/verdict"
)

// common are the computations that belong to no kind of work.
var common = map[string]computation{
	"formula": computes(readFormula), "quantity": computes(readQuantity),
	"needs": computes(needsOfSession), "supply": computes(supplySession), "schedule": searches(arrange),
	"unknowns": computes(unknowns.Find), "compare": computes(comparison.Compare), "slips": computes(slip.Answer), "table": computes(readSheet),
}

type needsQuestion struct {
	Session    session.Session    `json:"session"`
	Thresholds verdict.Thresholds `json:"thresholds"`
}

func needsOfSession(q needsQuestion) ([]session.Need, error) {
	needs, err := session.Needs(q.Session, q.Thresholds)
	return needs, at("/session", err)
}

type supplyQuestion struct {
	needsQuestion
	Store session.Store `json:"store"`
}

func supplySession(q supplyQuestion) ([]session.Supply, error) {
	needs, err := needsOfSession(q.needsQuestion)
	if err != nil {
		return nil, err
	}
	return q.Store.Supplies(q.Session, needs, q.Thresholds), nil
}

type scheduleQuestion struct {
	schedule.Problem
	Now int `json:"now"` // nothing starts before it
}

// arrangement is both ends of a schedule: as early as can be, and as late.
type arrangement struct {
	Earliest schedule.Schedule `json:"earliest"`
	Latest   schedule.Schedule `json:"latest"`
	// Rooms is how far each task of the latest can be moved.
	Rooms []schedule.Room `json:"rooms"`
}

func arrange(ctx context.Context, q scheduleQuestion) (a arrangement, err error) {
	if a.Latest, err = schedule.Latest(ctx, q.Problem, q.Now); err != nil {
		return a, err
	}
	a.Rooms = q.Rooms(a.Latest.Placed)
	a.Earliest, err = schedule.Earliest(ctx, q.NotBefore(q.Now))
	return a, err
}

// Computations names the operations of [Compute].
func Computations() []string {
	var names []string
	for _, list := range append([]map[string]computation{common}, computationsOfKinds()...) {
		for name := range list {
			names = append(names, name)
		}
	}
	slices.Sort(names)
	return names
}

func computationsOfKinds() (list []map[string]computation) {
	for _, k := range kinds {
		list = append(list, k.computations)
	}
	return list
}

// Compute carries out an operation by name on a JSON body. It touches no record. A search that
// its context ends gives the best that it found, and says so, or the error of the context.
func Compute(ctx context.Context, operation string, body []byte) (any, error) {
	for _, list := range append([]map[string]computation{common}, computationsOfKinds()...) {
		if compute, ok := list[operation]; ok {
			return compute(ctx, body)
		}
	}
	return nil, NotFound{fmt.Sprintf("a computation “%s”", operation)}
}

// FormulaAnswer is what a formula gives.
type FormulaAnswer struct {
	Text          string          `json:"text"`
	Pieces        []formula.Piece `json:"pieces"`
	Charge        int             `json:"charge"`
	MolarMass     float64         `json:"molarMass"` // g/mol
	MolarMassText string          `json:"molarMassText"`
	Composition   []ElementShare  `json:"composition"`
}

// ElementShare is the part of one element in the mass.
type ElementShare struct {
	Symbol   string  `json:"symbol"`
	Name     string  `json:"name"`
	Atoms    float64 `json:"atoms"`
	Fraction float64 `json:"fraction"`
}

type formulaQuestion struct {
	Formula string `json:"formula"`
}

func readFormula(q formulaQuestion) (FormulaAnswer, error) {
	f, err := formula.Parse(q.Formula)
	if err != nil {
		var wrong *formula.Error
		if errors.As(err, &wrong) {
			return FormulaAnswer{}, verdict.Problems{{Field: "/formula", Reason: fmt.Sprintf("at character %d: %s", wrong.At+1, wrong.Reason)}}
		}
		return FormulaAnswer{}, err
	}
	m := f.MolarMass()
	text, u := quantity.Round(m.Value, m.Expanded())
	answer := FormulaAnswer{
		Text:          f.String(),
		Pieces:        f.Pieces,
		Charge:        f.Charge,
		MolarMass:     m.Value,
		MolarMassText: text + " ± " + u + " g/mol",
	}
	for _, share := range f.Composition() {
		answer.Composition = append(answer.Composition, ElementShare{share.Symbol, share.Name, share.Atoms, share.Fraction})
	}
	return answer, nil
}

type quantityQuestion struct {
	Text       string               `json:"text"`
	Dimensions []quantity.Dimension `json:"dimensions"`
	Unit       string               `json:"unit,omitempty"`
}

// QuantityAnswer is how a text was understood.
type QuantityAnswer struct {
	Quantity   quantity.Quantity `json:"quantity"`
	Understood string            `json:"understood"`
}

func readQuantity(q quantityQuestion) (QuantityAnswer, error) {
	if head, of, ok := quantity.Counted(q.Text, q.Dimensions); ok {
		if _, err := formula.Parse(strings.TrimSuffix(of, formula.ElementSuffix(of))); err == nil {
			read, err := quantity.ParseAny(head, q.Dimensions, q.Unit)
			return QuantityAnswer{read, read.String() + " of " + of}, err
		}
	}
	read, err := quantity.ParseAny(q.Text, q.Dimensions, q.Unit)
	if err != nil {
		return QuantityAnswer{}, verdict.Problems{{Field: "/text", Reason: err.Error()}}
	}
	return QuantityAnswer{read, read.String()}, nil
}
