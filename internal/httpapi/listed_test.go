package httpapi

import (
	"testing"

	"vialbench/core/figure"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/internal/lab"
	"vialbench/internal/store"
)

// A list has the strengths and the pH of a bottle, each once, and nothing of what adds to their uncertainty.
func TestBottleInAList(t *testing.T) {
	known := uncertain.New(1, 0.01, uncertain.Source{ID: "x", Label: "x"})
	role := func(id string, r figure.Role) figure.Figure { return figure.New(id, id, "", known).As(r) }
	figures := []figure.Figure{
		role("total", figure.Concentration), role("volume", figure.Volume), role("pH", figure.PH),
		role("acid", figure.Concentration), role("molality", figure.OtherConcentration),
	}
	got := wireListed(lab.BottleView{Bottle: store.Bottle{Product: run.Product{Figures: figures}}})
	if len(got.Figures) != 2 || got.Figures[0].ID != "pH" || got.Figures[1].ID != "acid" || got.Concentration.ID != "total" {
		t.Fatalf("%+v", got.Figures)
	}
	for _, f := range append(got.Figures, got.Concentration) {
		if f.Budget != nil || f.Contributions != nil || f.Value != 1 || f.Text == "" {
			t.Errorf("%+v", f)
		}
	}
	if figures[2].Budget == nil {
		t.Error("the bottle itself lost what it knows")
	}
}
