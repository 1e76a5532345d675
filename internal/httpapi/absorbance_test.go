package httpapi_test

import (
	"archive/zip"
	"io"
	"math"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"
)

// runOf is the finished run of a kind in the sample records.
func (p *person) runOf(kind string) string {
	p.t.Helper()
	for _, item := range p.must(200, "GET", "/runs?status=finished&kind="+kind, nil)["items"].([]any) {
		return item.(object)["id"].(string)
	}
	p.t.Fatalf("no run of the kind %s", kind)
	return ""
}

// figureOf is a figure of a run, by its ID.
func figureOf(t *testing.T, run object, id string) object {
	t.Helper()
	for _, f := range run["outcome"].(object)["figures"].([]any) {
		if f.(object)["id"] == id {
			return f.(object)
		}
	}
	t.Fatalf("no figure %s", id)
	return nil
}

// The report of a line says what was found and how well, what was struck and why, what was read, and who said so.
func TestTheReportOfALine(t *testing.T) {
	ra := demoLab(t)
	run := ra.runOf("absorbance")
	status, pdf := ra.do("GET", "/runs/"+run+"/report.pdf", nil)
	if status != 200 {
		t.Fatal(status)
	}
	says := pdfText(t, pdf["text"].(string))
	for _, want := range []string{
		"Phosphate as molybdate blue at 880 nm", "Run 36, begun", "by IT", "Pond, at the inlet, before it was diluted 2.402 ± 0.0", "mg/L P",
		"slope of the line 0.72", "molar absorptivity 22", "absorbance at 880 nm", "AU off the line", "AB-4", "does not differ from zero",
		"Bottle 13", "a bubble on the wall of the cell", "scatter of the readings", "Blank set to zero; it shows 0.000 AU", "Decided: keep this line",
		"What adds to the uncertainty of pond, at the inlet", "Your local rules, the safety data sheet and licensed waste handling come first.",
	} {
		if !strings.Contains(says, want) {
			t.Errorf("the report does not say %q:\n%s", want, says)
		}
	}
	// The plot is drawn in lines, not as a picture.
	if text := pdf["text"].(string); strings.Contains(text, "/Subtype /Image") {
		t.Error("there is a picture in it")
	}
	// Of every other kind there is a report too, and a workbook.
	for _, kind := range []string{"standard", "dilution", "buffer", "calibration", "readings", "capacity", "droptip", "titration", "curve", "scan", "mixture"} {
		status, pdf := ra.do("GET", "/runs/"+ra.runOf(kind)+"/report.pdf", nil)
		if status != 200 || !strings.Contains(pdfText(t, pdf["text"].(string)), "The record") {
			t.Errorf("%s: %d", kind, status)
		}
	}
	status, book := ra.do("GET", "/runs/"+run+"/table.xlsx", nil)
	if status != 200 {
		t.Fatal(status)
	}
	text := book["text"].(string)
	files, err := zip.NewReader(strings.NewReader(text), int64(len(text)))
	if err != nil {
		t.Fatal(err)
	}
	all := ""
	for _, f := range files.File {
		if strings.HasPrefix(f.Name, "xl/") && strings.HasSuffix(f.Name, ".xml") {
			r, err := f.Open()
			if err != nil {
				t.Fatal(err)
			}
			part, err := io.ReadAll(r)
			if err != nil {
				t.Fatal(err)
			}
			all += string(part)
		}
	}
	for _, want := range []string{"struck because", "a bubble on the wall of the cell", "<v>0.489</v>", "molar absorptivity", "Readings", "Results"} {
		if !strings.Contains(all, want) {
			t.Errorf("the workbook does not say %q", want)
		}
	}
}

// A line is offered to later readings, and a correction at its root moves what was read from it.
func TestWhatWasReadFollowsTheLine(t *testing.T) {
	ra := demoLab(t)
	root := ra.runOf("absorbance")
	_, answer := ra.do("GET", "/lines", nil)
	lines := answer["list"].([]any)
	if len(lines) != 5 || lines[0].(object)["run"] != root || lines[0].(object)["title"] != "Phosphate as molybdate blue at 880 nm" ||
		lines[4].(object)["substance"] != "Alder red" || lines[4].(object)["wavelength"] != 560.0 ||
		!strings.HasPrefix(lines[0].(object)["says"].(string), "0.72") {
		t.Fatalf("%v", lines)
	}
	plan := ra.must(201, "POST", "/plans", object{"id": uuid.NewString(), "kind": "absorbance", "question": object{
		"substance": "", "line": root, "unknowns": []any{object{"name": "Ditch", "diluted": "10"}}, "wavelength": 0, "path": 0, "cells": 1, "replicates": 1,
	}})
	run := ra.must(201, "POST", "/runs", object{"id": uuid.NewString(), "planId": plan["id"]})["summary"].(object)["id"].(string)
	state := func(run string, f object) {
		t.Helper()
		f["id"] = uuid.NewString()
		ra.must(200, "POST", "/runs/"+run+"/facts", f)
	}
	reading := func(text string) object { return object{"text": text, "unit": "AU"} }
	state(run, object{"kind": "blank-set", "quantity": reading("0.000")})
	state(run, object{"kind": "absorbance-read", "quantity": reading("0.352")})
	state(run, object{"kind": "decided", "choice": "end"})
	before := figureOf(t, ra.must(200, "GET", "/runs/"+run, nil), "sample 0")
	if c := before["value"].(float64); math.Abs(c-4.80) > 0.02 {
		t.Errorf("%g", c)
	}
	// The strongest standard was misread: the line is steeper, the ditch holds less.
	facts := ra.must(200, "GET", "/runs/"+root, nil)["facts"].([]any)
	i := slices.IndexFunc(facts, func(f any) bool {
		body := f.(object)["fact"].(object)
		return body["kind"] == "absorbance-read" && body["part"] == 5.0
	})
	old := facts[i].(object)["fact"].(object)["id"]
	state(root, object{"kind": "absorbance-read", "part": 5, "quantity": reading("0.760"), "replaces": old, "reason": "misread"})
	after := figureOf(t, ra.must(200, "GET", "/runs/"+run, nil), "sample 0")
	if c := after["value"].(float64); !(c < before["value"].(float64)-0.05) {
		t.Errorf("%g, before %g", c, before["value"])
	}
}

func TestQuestionsOfALine(t *testing.T) {
	ra := demoLab(t)
	tubes := map[float64]string{}
	for _, b := range ra.must(200, "GET", "/bottles", nil)["items"].([]any) {
		tubes[b.(object)["number"].(float64)] = b.(object)["id"].(string)
	}
	ask := func(change func(q object)) (int, object) {
		q := object{
			"substance": "Phosphate", "bottles": []any{tubes[10], tubes[11], tubes[12]}, "unknowns": []any{}, "wavelength": 880, "path": 10, "cells": 1, "replicates": 1,
		}
		change(q)
		return ra.do("POST", "/plans/preview", object{"id": uuid.NewString(), "kind": "absorbance", "question": q})
	}
	if status, got := ask(func(object) {}); status != 200 || got["plan"].(object)["design"].(object)["request"].(object)["unit"] != "mg/L P" {
		t.Errorf("%d %v", status, got)
	}
	// The line of the rack is what the same substance is expected by, through half the path with half its slope.
	request := func(change func(q object)) object {
		t.Helper()
		status, got := ask(change)
		if status != 200 {
			t.Fatalf("%d %v", status, got)
		}
		return got["plan"].(object)["design"].(object)["request"].(object)
	}
	blue := func(q object) { q["substance"] = "phosphate AS molybdate blue" }
	before, _ := request(blue)["before"].(object)
	half, _ := request(func(q object) { blue(q); q["path"] = 5 })["before"].(object)
	if before == nil || half == nil || before["number"] != 36.0 || math.Abs(before["slope"].(float64)-0.729) > 0.001 ||
		math.Abs(half["slope"].(float64)*2-before["slope"].(float64)) > 1e-12 || half["intercept"] != before["intercept"] {
		t.Errorf("%v, %v", before, half)
	}
	if other := request(func(q object) { blue(q); q["wavelength"] = 700 })["before"]; other != nil {
		t.Errorf("at another wavelength: %v", other)
	}
	scatter := request(func(q object) { q["scatter"] = object{"floor": "0,002", "part": 3} })["scatter"].(object)
	if scatter["floor"] != 0.002 || scatter["part"] != 3.0 {
		t.Errorf("%v", scatter)
	}
	for want, change := range map[string]func(q object){
		"/scatter/floor the scatter of a reading of nothing is from 0.00001 to 0.1 AU: about its last digit": func(q object) {
			q["scatter"] = object{"floor": 3, "part": 3}
		},
		"/bottles/1 Disodium EDTA dihydrate, 0.0100 mol/L is told in mol/L, the line in mg/L P: take standards of one rack": func(q object) {
			q["bottles"] = []any{tubes[10], tubes[2], tubes[12]}
		},
		"/standards a line takes 3 to 12 standards: two give no scatter": func(q object) { q["bottles"] = []any{tubes[10], tubes[11]} },
		"/unit say the unit of the concentrations, like mg/L":            func(q object) { q["bottles"], q["typed"] = nil, []any{1, 2, 3} },
		"/wavelength a wavelength is in nm, from 190 to 1100":            func(q object) { q["wavelength"] = 88 },
		"/line a line is named by the run that it was made in":           func(q object) { q["line"] = "yesterday" },
		"/unknowns/0/bottle bottle 2 contains C10H14N2Na2O8·2H2O, and the standards KH2PO4: another line is needed": func(q object) {
			q["unknowns"] = []any{object{"name": "x", "bottle": tubes[2]}}
		},
	} {
		status, got := ask(func(q object) {
			change(q)
			if q["bottles"] == nil {
				delete(q, "bottles")
			}
		})
		if status != 422 {
			t.Errorf("%s: %d %v", want, status, got)
			continue
		}
		first := got["errors"].([]any)[0].(object)
		if says := strings.TrimPrefix(first["pointer"].(string), "/question") + " " + first["detail"].(string); says != want {
			t.Errorf("%q, want %q", says, want)
		}
	}
	// An unknown from the shelf knows how it was diluted.
	_, got := ask(func(q object) { q["unknowns"] = []any{object{"name": "as if unknown", "bottle": tubes[5]}} })
	unknown := got["plan"].(object)["design"].(object)["request"].(object)["unknowns"].([]any)[0].(object)
	if d := unknown["descent"].(object); d["number"] != 3.0 || unknown["number"] != 5.0 {
		t.Errorf("%v", unknown)
	}
}
