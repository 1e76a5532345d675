package lab_test

import (
	"bytes"
	"encoding/json"
	"errors"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"

	"vialbench/core/buffer"
	"vialbench/core/equilibrium"
	"vialbench/core/substance"
	"vialbench/core/verdict"
	"vialbench/internal/lab"
)

// cyanophenol is a system that the library lacks: pKa 7.97 (handbooks, from memory).
func cyanophenol() equilibrium.System {
	return equilibrium.System{
		Name: " 4-cyanophenol", Base: "4-cyanophenolate", Acid: "C7H5NO",
		Constants: []equilibrium.Constant{{PKa: 7.79, U: 0.02}}, Source: "handbook", Unfit: "nonsense", Amino: true,
	}
}

func TestSystemsOfALabsOwn(t *testing.T) {
	l, ra, it := newLab(t)
	if _, err := l.AddSystem(t.Context(), it, cyanophenol()); !errors.As(err, new(lab.Forbidden)) {
		t.Errorf("an assistant adds a system: %v", err)
	}
	added, err := l.AddSystem(t.Context(), ra, cyanophenol())
	if err != nil || added.Name != "4-cyanophenol" || added.Unfit != "" || added.Amino || !added.Own {
		t.Fatalf("%+v %v", added, err)
	}
	wrong := func(what, field string, err error) {
		t.Helper()
		p, _ := err.(verdict.Problems) //nolint:errorlint // not wrapped
		if len(p) == 0 || p[0].Field != field {
			t.Errorf("%s: %v, want a problem at %s", what, err, field)
		}
	}
	for what, change := range map[string]func(*equilibrium.System) string{
		"the same name twice":      func(s *equilibrium.System) string { s.Name = "4-Cyanophenol"; return "/name" },
		"a name of the library":    func(s *equilibrium.System) string { s.Name = "Acetic acid"; return "/name" },
		"no source":                func(s *equilibrium.System) string { s.Name, s.Source = "x", " "; return "/source" },
		"no hydrogen to give off":  func(s *equilibrium.System) string { s.Name, s.Acid = "x", "NaCl"; return "/acid" },
		"a constant out of bounds": func(s *equilibrium.System) string { s.Name, s.Constants[0].PKa = "x", 20; return "/constants/0/pKa" },
	} {
		s := cyanophenol()
		field := change(&s)
		_, err := l.AddSystem(t.Context(), ra, s)
		wrong(what, field, err)
	}

	// A plan is made with it, and keeps its constants when the lab corrects them.
	_, err = l.AddSubstance(t.Context(), ra, substance.Substance{
		Name: "4-Cyanophenol", Formula: "C7H5NO", Class: substance.Secondary,
		Sources: map[string]string{"all": "label"},
	})
	if err != nil {
		t.Fatal(err)
	}
	question := json.RawMessage(
		`{"target": 8, "celsius": 25, "concentration": {"text": "0.05 mol/L"}, "volume": {"text": "250 mL"}, "system": "` + added.Key + `"}`,
	)
	before, err := l.CreatePlan(t.Context(), ra, uuid.NewString(), buffer.Kind, question)
	if err != nil {
		t.Fatal(err)
	}
	right := added.System
	right.Constants = []equilibrium.Constant{{PKa: 7.97, U: 0.02}}
	if _, err := l.ChangeSystem(t.Context(), ra, right); err != nil {
		t.Fatal(err)
	}
	after, err := l.CreatePlan(t.Context(), ra, uuid.NewString(), buffer.Kind, question)
	if err != nil {
		t.Fatal(err)
	}
	pKa := func(id string) float64 {
		t.Helper()
		p, err := l.Plan(t.Context(), id)
		if err != nil {
			t.Fatal(err)
		}
		var r buffer.Request
		if err := json.Unmarshal(p.Request, &r); err != nil {
			t.Fatal(err)
		}
		return r.System.Constants[0].PKa
	}
	if a, b := pKa(before.ID), pKa(after.ID); a != 7.79 || b != 7.97 {
		t.Errorf("plans of pKa %g and %g, want 7.79 kept and 7.97 now", a, b)
	}
	right.Key = uuid.NewString()
	right.Name = "another"
	if _, err := l.ChangeSystem(t.Context(), ra, right); !errors.As(err, new(lab.NotFound)) {
		t.Errorf("a system that is not there is changed: %v", err)
	}
	page, err := l.History(t.Context(), 0)
	if err != nil || len(page.Items) == 0 || page.Items[0].What != "acid–base system" {
		t.Fatalf("%+v %v", page.Items, err)
	}
	if values := page.Items[0].Values; len(values) == 0 || !strings.Contains(values[0].Before, "7.79") ||
		!strings.Contains(*values[0].After, "7.97") {
		t.Errorf("the record of changes: %+v", values)
	}
	list, err := l.Systems(t.Context())
	if err != nil || len(list) != len(equilibrium.Systems())+1 {
		t.Errorf("%d systems, %v", len(list), err)
	}
	if i := slices.IndexFunc(list, func(s lab.OwnedSystem) bool { return s.Own }); i < 0 || list[i].Constants[0].PKa != 7.97 {
		t.Errorf("own: %d", i)
	}
}

func TestSystemsGoOutAndInAgain(t *testing.T) {
	l, ra, _ := newLab(t)
	added, err := l.AddSystem(t.Context(), ra, cyanophenol())
	if err != nil {
		t.Fatal(err)
	}
	var out bytes.Buffer
	if err := l.Export(t.Context(), &out); err != nil {
		t.Fatal(err)
	}
	records := func(old, new string) (r lab.Records) {
		t.Helper()
		text := bytes.Replace(out.Bytes(), []byte(old), []byte(new), 1)
		if err := json.Unmarshal(text, &r); err != nil {
			t.Fatal(err)
		}
		return r
	}
	again, err := l.Import(t.Context(), ra, records("", ""), false)
	if err != nil || again.Systems != 0 || again.Changed != 0 {
		t.Errorf("taken in where it came from: %+v %v", again, err)
	}
	other, by, _ := newLab(t)
	report, err := other.Import(t.Context(), by, records("", ""), false)
	if err != nil || report.Systems != 1 {
		t.Fatalf("%+v %v", report, err)
	}
	list, err := other.Systems(t.Context())
	i := slices.IndexFunc(list, func(s lab.OwnedSystem) bool { return s.Own })
	if err != nil || i < 0 || list[i].Key != added.Key || list[i].Constants[0].PKa != 7.79 {
		t.Errorf("%d %v", i, err)
	}
	if report, err = other.Import(t.Context(), by, records("7.79", "7.97"), false); err != nil || report.Changed != 1 {
		t.Errorf("a corrected constant: %+v %v", report, err)
	}
	if _, err = other.Import(t.Context(), by, records(added.Key, uuid.NewString()), false); err == nil ||
		!strings.Contains(err.Error(), "is there already") {
		t.Errorf("the same name under another key: %v", err)
	}
}
