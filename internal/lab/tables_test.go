package lab_test

import (
	"bytes"
	"errors"
	"fmt"
	"strings"
	"testing"

	"vialbench/core/substance"
	"vialbench/internal/lab"
)

// Ten thousand lines, three of them wrong: nothing is taken in, the three are named.
// Mended, all of it is, and comes out again as it went in.
func TestTableOfSubstances(t *testing.T) {
	l, ra, it := newLab(t)
	var b strings.Builder
	b.WriteString("Name,Formula,Class,Density g/mL,Hazards,Source\r\n")
	wrong := map[int]string{
		17:   "Salt 17,Nacl,secondary,2.1,,x",
		4242: "Salt 4242,KCl,secondary,heavy,,x",
		9999: "Salt 9999,KCl,tertiary,2,H999,x",
	}
	write := func(b *strings.Builder, bad bool) {
		for line := 2; line <= 10_001; line++ {
			if text, ok := wrong[line]; ok && bad {
				b.WriteString(text + "\r\n")
				continue
			}
			fmt.Fprintf(b, "\"Salt %d, own\",K%dCl,secondary,2.%d,H302 H319,from the data sheet\r\n", line, line%90+1, line%10)
		}
	}
	good := b
	write(&b, true)
	_, err := l.ImportTable(t.Context(), ra, lab.SubstanceTable, strings.NewReader(b.String()), false)
	got := problems(t, err)
	for _, place := range []string{"/17/formula", "/4242/density g/mL", "/9999/class"} {
		if got[place] == "" {
			t.Errorf("nothing at %s: %v", place, got)
		}
	}
	if len(got) != 4 { // line 9999 has two
		t.Errorf("%d problems: %v", len(got), got)
	}
	own := func() (n int) {
		list, err := l.Substances(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		for _, s := range list {
			if s.Own {
				n++
			}
		}
		return n
	}
	if own() != 0 {
		t.Fatalf("%d were taken in", own())
	}
	good.Reset()
	good.WriteString("name;formula;class;density g/mL;hazards\n")
	good.WriteString("Salz A;KCl;secondary;2,5;H302\nSalz B;NaCl;secondary;;\n")
	for _, dryRun := range []bool{true, false} {
		r, err := l.ImportTable(t.Context(), ra, lab.SubstanceTable, strings.NewReader(good.String()), dryRun)
		if err != nil || r.Substances != 2 || len(r.Changes) != 2 || own() != map[bool]int{true: 0, false: 2}[dryRun] {
			t.Fatalf("dry run %v: %+v, %v, %d own", dryRun, r, err, own())
		}
	}
	var out bytes.Buffer
	if err := l.ExportTable(t.Context(), lab.SubstanceTable, &out); err != nil || !strings.Contains(out.String(), "2.5") {
		t.Fatalf("%s %v", out.String(), err)
	}
	r, err := l.ImportTable(t.Context(), ra, lab.SubstanceTable, bytes.NewReader(out.Bytes()), false)
	if err != nil || r.Known != 2 || r.Substances+r.Changed != 0 {
		t.Errorf("taken in again: %+v %v", r, err)
	}
	changed := strings.Replace(out.String(), "2.5", "2.6", 1)
	if r, err = l.ImportTable(
		t.Context(),
		ra,
		lab.SubstanceTable,
		strings.NewReader(changed),
		false,
	); err != nil || r.Changed != 1 ||
		!strings.HasPrefix(r.Changes[0], "changed: Salz A") {
		t.Errorf("changed: %+v %v", r, err)
	}
	var forbidden lab.Forbidden
	if _, err := l.ImportTable(t.Context(), it, lab.SubstanceTable, strings.NewReader(changed), true); !errors.As(err, &forbidden) {
		t.Errorf("an assistant: %v", err)
	}
	for text, place := range map[string]string{"": "/1", "name,colour\n": "/1/colour", "name,formula\n": "/1", "name,formula,class\na,\"b": "/2", "name,formula,class\na,b,c,d\n": "/2"} {
		if _, err := l.ImportTable(t.Context(), ra, lab.SubstanceTable, strings.NewReader(text), true); problems(t, err)[place] == "" {
			t.Errorf("%q: %v, want a problem at %s", text, err, place)
		}
	}
}

func TestTablesOfEquipmentAndPlans(t *testing.T) {
	l, ra, _ := newLab(t)
	equipment := "kind,volume mL,class,count,mark,certified mL,certified limits mL,name,capacity g,resolution g,repeatability g,linearity g\n" +
		"balance,,,,,,,Birch,220,0.0001,0.0001,0.0002\nvolumetric flask,250,A,4,,,,,,,,\nvolumetric flask,100,A,1,F9,100.02,0.03,,,,,\n"
	r, err := l.ImportTable(t.Context(), ra, lab.EquipmentTable, strings.NewReader(equipment), false)
	if err != nil || r.Balances != 1 || r.Glass != 2 {
		t.Fatalf("%+v %v", r, err)
	}
	more := strings.Replace(equipment, "250,A,4", "250,A,6", 1) + "burette,55,A,1,,,,,,,,\nvolumetric flask,100,A,1,F8,100.02,300,,,,,\n"
	_, err = l.ImportTable(t.Context(), ra, lab.EquipmentTable, strings.NewReader(more), false)
	if p := problems(t, err); len(p) != 2 || p["/5/volume mL"] == "" || p["/6/certified limits mL"] == "" {
		t.Errorf("%v", p)
	}
	plans := "substance,concentration,volume\nSodium chloride,0.1 mol/L,250 mL\nSodium chloride,0.1 g,250 mL\nUnobtainium,1 g/L,90 L\n"
	_, err = l.ImportTable(t.Context(), ra, lab.PlanTable, strings.NewReader(plans), false)
	if p := problems(t, err); len(p) != 2 || p["/3/concentration"] == "" || p["/4/substance"] == "" {
		t.Errorf("%v", p)
	}
	if r, err = l.ImportTable(
		t.Context(),
		ra,
		lab.PlanTable,
		strings.NewReader(strings.Join(strings.SplitAfter(plans, "\n")[:2], "")),
		false,
	); err != nil ||
		r.Plans != 1 {
		t.Fatalf("%+v %v", r, err)
	}
	for _, table := range []lab.Table{lab.EquipmentTable, lab.PlanTable} {
		var out bytes.Buffer
		if err := l.ExportTable(t.Context(), table, &out); err != nil {
			t.Fatal(err)
		}
		r, err := l.ImportTable(t.Context(), ra, table, &out, false)
		if err != nil || r.Known == 0 || r.Changed+r.Balances+r.Glass+r.Plans != 0 {
			t.Errorf("%s out and in: %+v %v", table, r, err)
		}
	}
}

// What a person wrote that a spreadsheet would take for a formula goes out as a text, and
// comes back as it was.
func TestNoCellOfATableIsAFormula(t *testing.T) {
	l, ra, _ := newLab(t)
	added, err := l.AddSubstance(t.Context(), ra, substance.Substance{
		Name:        "@pond",
		Formula:     "NaCl",
		Class:       substance.Secondary,
		Note:        `=HYPERLINK("http://127.0.0.1","x")`,
		Drying:      "+1 h at 110 °C",
		Hazards:     []string{},
		Precautions: []string{},
		Sources:     map[string]string{"all": "-"},
	})
	if err != nil {
		t.Fatal(err)
	}
	var out strings.Builder
	if err := l.ExportTable(t.Context(), lab.SubstanceTable, &out); err != nil {
		t.Fatal(err)
	}
	for _, cell := range []string{"'@pond,", `"'=HYPERLINK(`, "'+1 h at 110 °C", ",'-"} {
		if !strings.Contains(out.String(), cell) {
			t.Errorf("no %s in %s", cell, out.String())
		}
	}
	report, err := l.ImportTable(t.Context(), ra, lab.SubstanceTable, strings.NewReader(out.String()), false)
	if err != nil || report.Known != 1 || report.Changed+report.Substances != 0 {
		t.Errorf("%s taken in again: %+v %v", added.Name, report, err)
	}
}
