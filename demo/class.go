package demo

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"strconv"
	"time"

	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/session"
	"vialbench/internal/lab"
	"vialbench/internal/store"
)

// Tuesday's class: twelve pairs find the acid from the old mill, which was diluted 1 in 10 before.
const (
	pairs      = 12
	millAcid   = 0.612 // mol/L
	millFactor = 10.0
	millPipett = 20.0 // mL
)

// classID names a record of the class.
func classID(n int) string { return fmt.Sprintf("019a0000-0000-7000-8000-%012d", 7000+n) }

// Class adds Tuesday's class to the sample records: at work now, with all results handed in, and three slips among them.
func Class(ctx context.Context, l *lab.Lab) error {
	people, err := l.People(ctx)
	if err != nil || len(people) == 0 {
		return err
	}
	by := lab.Actor{Account: people[0]}
	for _, p := range people {
		if p.Role == lab.Instructor {
			by.Account = p
		}
	}
	if _, err := l.LabSession(ctx, classID(0)); err == nil {
		return nil // it is there already
	}
	titrant, err := lye(ctx, l)
	if err != nil || titrant.ID == "" {
		return err
	}
	now := time.Now()
	s := session.Session{
		Title: "Acid from the old mill", Place: "Lab 2", Starts: now.Add(time.Minute), Ends: now.Add(3 * time.Hour).Truncate(time.Minute),
		Zone: zoneOf(now), Groups: pairs, Items: []session.Item{}, People: []session.Person{}, Own: []session.OwnTask{},
	}
	if _, err := l.KeepLabSession(ctx, by, classID(0), s, 0); err != nil {
		return err
	}
	question, err := json.Marshal(map[string]any{
		"reaction": "strong-acid-by-base", "standardise": false, "titrantBottle": titrant.ID, "name": "Acid from the old mill",
		"by": "pipette", "volume": millPipett, "burette": 50, "celsius": 20, "diluted": millFactor,
	})
	if err != nil {
		return err
	}
	plan, err := l.CreatePlan(ctx, by, classID(1), "titration", question)
	if err != nil {
		return err
	}
	task := lab.NewClassTask{
		ID: classID(2), Plan: plan.ID, Title: "Acid from the old mill", Unit: "mol/L", Held: fmt.Sprintf("%g ± 0.002 mol/L", millAcid),
	}
	if _, err := l.AddClassTask(ctx, by, classID(0), task); err != nil {
		return err
	}
	class, err := l.OpenClass(ctx, by, classID(0))
	if err != nil {
		return err
	}
	c, ok := titrant.Product.Figure(figure.Concentration)
	if !ok {
		return nil
	}
	draw := rand.New(rand.NewPCG(12, 1)) //nolint:gosec // the same class each time
	for _, g := range class.Groups {
		if err := (pair{l, lab.Actor{Account: g.Account}, g, draw, c.Value}).works(ctx); err != nil {
			return fmt.Errorf("%s: %w", g.Name, err)
		}
	}
	return nil
}

// lye is the bottle of sodium hydroxide of the sample records.
func lye(ctx context.Context, l *lab.Lab) (store.Bottle, error) {
	page, err := l.Bottles(ctx, lab.Shelf{Text: "Sodium hydroxide"}, 0)
	if err != nil || len(page.Items) == 0 {
		return store.Bottle{}, err
	}
	return page.Items[0].Bottle, nil
}

// pair is one group at its bench.
type pair struct {
	*lab.Lab
	who     lab.Actor
	group   store.ClassGroup
	draw    *rand.Rand
	titrant float64 // mol/L
}

// The slips of the class, by the numbers of the groups.
const (
	leavesFactorOut = 4
	leavesStartOut  = 7
	takesPipette    = 11 // of 25 mL, and writes 20 mL down
)

func (p pair) works(ctx context.Context) error {
	id := classID(100 * p.group.Number)
	if _, err := p.BeginOwnTask(ctx, p.who, classID(2), id); err != nil {
		return err
	}
	n := 0
	state := func(f fact.Fact, q string) error {
		n++
		f.ID = classID(100*p.group.Number + n)
		s := lab.Statement{Stated: run.Stated{Fact: f}}
		if q != "" {
			typed := quantity.Typed(q)
			s.Quantity = &typed
		}
		_, err := p.StateFact(ctx, p.who, id, s)
		return err
	}
	if err := state(fact.Fact{Kind: "burette-ready", Choice: "rinsed-3"}, ""); err != nil {
		return err
	}
	takes := millPipett
	if p.group.Number == takesPipette {
		takes = 25
	}
	var used, ends float64
	for part := range 3 {
		start := round2(0.1 + 2*p.draw.Float64())
		titre := millAcid/millFactor*takes/p.titrant + 0.02*p.draw.NormFloat64()
		if part == 0 {
			titre += 0.6 // rough
		}
		end := round2(start + titre)
		if part > 0 {
			used, ends = used+(end-start)/2, ends+end/2
		}
		for _, f := range []struct {
			fact.Fact
			q string
		}{
			{fact.Fact{Kind: "sample", Part: part, Choice: "delivered"}, ""},
			{fact.Fact{Kind: "start", Part: part}, fmt.Sprintf("%.2f mL", start)},
			{fact.Fact{Kind: "read", Part: part}, fmt.Sprintf("%.2f mL", end)},
			{fact.Fact{Kind: run.KindDecided, Part: part, Choice: "end-point"}, ""},
		} {
			if err := state(f.Fact, f.q); err != nil {
				return err
			}
		}
	}
	if err := state(fact.Fact{Kind: run.KindDecided, Part: 3, Choice: "enough"}, ""); err != nil {
		return err
	}
	result := p.titrant * used / millPipett * millFactor
	switch p.group.Number {
	case leavesFactorOut:
		result /= millFactor
	case leavesStartOut:
		result *= ends / used
	}
	stated := strconv.FormatFloat(result, 'f', 3-int(math.Floor(math.Log10(result))), 64) + " mol/L"
	_, err := p.HandIn(ctx, p.who, classID(2), classID(100*p.group.Number+99), stated, "")
	return err
}

func round2(x float64) float64 { return math.Round(100*x) / 100 }
