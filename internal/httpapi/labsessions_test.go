package httpapi_test

import (
	"archive/zip"
	"encoding/csv"
	"encoding/xml"
	"fmt"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"vialbench/demo"
	"vialbench/internal/lab"
)

// hardness is a session in nine days, at nine by the clocks of London.
func hardness(title string) object {
	london, err := time.LoadLocation("Europe/London")
	if err != nil {
		panic(err)
	}
	y, m, d := time.Now().AddDate(0, 0, 9).Date()
	starts := time.Date(y, m, d, 9, 0, 0, 0, london)
	return object{
		"title": title, "place": "Lab 2", "starts": starts.UTC().Format(time.RFC3339), "ends": starts.Add(3 * time.Hour).UTC().Format(time.RFC3339),
		"zone": "Europe/London", "groups": 12, "meters": 1, "own": []any{},
		"items": []any{
			object{"id": "a", "name": "Sodium hydroxide", "concentration": "0.5 mol/L", "each": "20 mL", "times": 2, "glass": "burette", "standardised": true},
			object{"id": "b", "name": "Screened indicator", "each": "1 mL", "times": 3},
		},
		"people": []any{object{"name": "Imani Thorne", "from": "08:00", "to": "17:00"}},
	}
}

// What a sheet says is read with a reader that is not ours: what to bring out, what to do and when, what each group
// gets, what is short, and the cautions.
func TestSessionOnPaper(t *testing.T) {
	ra := demoLab(t)
	id, s := uuid.NewString(), hardness("Base in pond mud")
	kept := ra.must(200, "POST", "/lab-sessions", object{"id": id, "session": s, "version": 0})
	status, pdf := ra.do("GET", "/lab-sessions/"+id+"/sheet.pdf", nil)
	if status != 200 {
		t.Fatal(status, pdf)
	}
	says := pdfText(t, pdf["text"].(string))
	for _, want := range []string{
		"Base in pond mud", "09:00 to 12:00, Lab 2, 12 groups", "Short", "Screened indicator: no bottle on the shelf is called that",
		"Sodium hydroxide, 0.5 mol/L 1.02 L Make it, 1 L and 100 mL, pour it together and standardise it.", "Pour together and standardise sodium hydroxide",
		"75 mL: 2 × 20 mL, 1 trial to spare, rinsing 1 burette, 2 × 5 mL, what stays of the filling",
		"Your local rules, the safety data sheet and licensed waste handling come first.",
		"Sodium hydroxide (Danger): H290 May be corrosive to metals H314 Causes severe skin burns and eye damage",
	} {
		if !strings.Contains(says, want) {
			t.Errorf("“%s” does not stand on it: %s", want, says)
		}
	}

	_, table := ra.do("GET", "/lab-sessions/"+id+"/tasks.csv", nil)
	rows, err := csv.NewReader(strings.NewReader(strings.TrimPrefix(table["text"].(string), "\ufeff"))).ReadAll()
	if err != nil {
		t.Fatal(err)
	}
	bars := kept["design"].(object)["bars"].([]any)
	if len(rows) != len(bars)+1 || strings.Join(rows[0], "|") != "begins (UTC)|ends (UTC)|task|person|at the bench, min|waiting, min" {
		t.Fatalf("%d rows of %d tasks: %q", len(rows), len(bars), rows[0])
	}
	for i, b := range bars {
		bar := b.(object)
		want := []string{
			bar["starts"].(string), bar["ends"].(string), bar["title"].(string), bar["person"].(string), fmt.Sprint(bar["hands"]), fmt.Sprint(bar["wait"]),
		}
		if strings.Join(rows[i+1], "|") != strings.Join(want, "|") {
			t.Errorf("row %d is %q, want %q", i+1, rows[i+1], want)
		}
	}
}

// Each group has a page with what it gets, its unknown by the number on it, and tables with blank columns; the workbook has the
// lists with their numbers as numbers, read here as the ZIP of XML that it is.
func TestCardsAndWorkbook(t *testing.T) {
	ra := demoLab(t)
	id, s := uuid.NewString(), hardness("Base in pond mud")
	s["groups"] = 3
	ra.must(200, "POST", "/lab-sessions", object{"id": id, "session": s, "version": 0})
	ra.must(200, "POST", "/lab-sessions/"+id+"/unknowns", object{
		"id": uuid.NewString(), "name": "Lye", "stock": "1 mol/L", "low": "0.05 mol/L", "high": "0.3 mol/L", "each": "60 mL", "within": 2,
	})
	_, unknowns := ra.do("GET", "/lab-sessions/"+id+"/unknowns", nil)
	bottles := unknowns["list"].([]any)[0].(object)["bottles"].([]any)
	_, pdf := ra.do("GET", "/lab-sessions/"+id+"/cards.pdf", nil)
	pages := pdfPages(t, pdf["text"].(string))
	if len(pages) < 3 {
		t.Fatalf("%d pages for 3 groups", len(pages))
	}
	for i := range 3 {
		for _, want := range []string{
			fmt.Sprintf("Base in pond mud: group %d", i+1), "Sodium hydroxide, 0.5 mol/L 75 mL 2 × 20 mL from a burette of 50 mL",
			fmt.Sprintf("Unknown: Lye bottle %v", bottles[i].(object)["code"]), "Sodium hydroxide, burette", "trial start, mL end, mL used, mL remarks",
			"Your local rules, the safety data sheet and licensed waste handling come first.",
		} {
			if !strings.Contains(pages[i], want) {
				t.Errorf("“%s” does not stand on page %d: %s", want, i+1, pages[i])
			}
		}
	}
	_, book := ra.do("GET", "/lab-sessions/"+id+"/session.xlsx", nil)
	tabs := readWorkbook(t, book["text"].(string))
	for tab, want := range map[string]string{
		"Liquids": "liquid|for a group, mL|places|in all, mL|from\nSodium hydroxide, 0.5 mol/L|75|4|315|Make it, 500 mL, and standardise it.",
		"Store":   "from the store|how much|place\nSodium hydroxide|10.31 g|container 1, cupboard 2, below",
		"Readings": "group|table|trial|start, mL|end, mL|used, mL|remarks\n1|Sodium hydroxide, burette|1\n1|Sodium hydroxide, burette|2\n1|Sodium hydroxide, burette|3\n" +
			"2|Sodium hydroxide, burette|1",
		"Unknowns": fmt.Sprintf("unknown|group|bottle\nLye|1|%v", bottles[0].(object)["code"]),
		"Tasks":    "begins (UTC)|ends (UTC)|task|person|at the bench, min|waiting, min\n",
	} {
		if !strings.HasPrefix(tabs[tab], want) {
			t.Errorf("%s: %s, want %s", tab, tabs[tab], want)
		}
	}
	ra.must(404, "GET", "/lab-sessions/"+uuid.NewString()+"/cards.pdf", nil)
	ra.must(404, "GET", "/lab-sessions/"+uuid.NewString()+"/session.xlsx", nil)
}

// readWorkbook reads the cells of a workbook by the parts of ISO/IEC 29500: the sheets by their names, a line for each row.
func readWorkbook(t *testing.T, body string) map[string]string {
	t.Helper()
	parts, err := zip.NewReader(strings.NewReader(body), int64(len(body)))
	if err != nil {
		t.Fatal(err)
	}
	read := func(name string, into any) {
		file, err := parts.Open(name)
		if err != nil {
			t.Fatal(err)
		}
		defer func() { _ = file.Close() }()
		if err := xml.NewDecoder(file).Decode(into); err != nil {
			t.Fatal(err)
		}
	}
	var strs struct {
		Items []struct {
			Text string `xml:"t"`
		} `xml:"si"`
	}
	read("xl/sharedStrings.xml", &strs)
	var book struct {
		Sheets []struct {
			Name string `xml:"name,attr"`
		} `xml:"sheets>sheet"`
	}
	read("xl/workbook.xml", &book)
	tabs := map[string]string{}
	for i, sheet := range book.Sheets {
		var data struct {
			Rows []struct {
				Cells []struct {
					Type  string `xml:"t,attr"`
					Value string `xml:"v"`
				} `xml:"c"`
			} `xml:"sheetData>row"`
		}
		read(fmt.Sprintf("xl/worksheets/sheet%d.xml", i+1), &data)
		var lines []string
		for _, row := range data.Rows {
			var cells []string
			for _, c := range row.Cells {
				if c.Type == "s" {
					n, err := strconv.Atoi(c.Value)
					if err != nil {
						t.Fatal(err)
					}
					c.Value = strs.Items[n].Text
				}
				cells = append(cells, c.Value)
			}
			lines = append(lines, strings.TrimRight(strings.Join(cells, "|"), "|"))
		}
		tabs[sheet.Name] = strings.Join(lines, "\n")
	}
	return tabs
}

func TestBadLabSessions(t *testing.T) {
	ra := demoLab(t)
	for field, change := range map[string]func(s object){
		"/session/groups":        func(s object) { s["groups"] = 0 },
		"/session/title":         func(s object) { s["title"] = " " },
		"/session/ends":          func(s object) { s["ends"] = s["starts"] },
		"/session/zone":          func(s object) { s["zone"] = "Pond/Edge" },
		"/session/items/0/each":  func(s object) { s["items"].([]any)[0].(object)["each"] = "a cup" },
		"/session/people/0/to":   func(s object) { s["people"].([]any)[0].(object)["to"] = "07:00" },
		"/session/items/0/times": func(s object) { s["items"].([]any)[0].(object)["times"] = 99 },
		"/session/starts":        func(s object) { s["starts"] = "2020-01-01T09:00:00Z"; s["ends"] = "2020-01-01T12:00:00Z" },
	} {
		s := hardness("Bad")
		change(s)
		problem := ra.must(422, "POST", "/lab-sessions", object{"id": uuid.NewString(), "session": s, "version": 0})
		if got := problem["errors"].([]any)[0].(object)["pointer"]; got != field {
			t.Errorf("%s: blamed %v", field, got)
		}
		if field != "/session/starts" { // a session that is over can be looked at
			ra.must(422, "POST", "/lab-sessions/preview", object{"id": uuid.NewString(), "session": s, "version": 0})
		}
	}
	ra.must(404, "GET", "/lab-sessions/"+uuid.NewString(), nil)
	ra.must(404, "GET", "/lab-sessions/"+uuid.NewString()+"/sheet.pdf", nil)
	ra.must(404, "POST", "/lab-sessions/"+uuid.NewString()+"/ticks", object{"id": uuid.NewString(), "task": "set out", "done": true})
}

// The computations that need no lab: needs, supply and schedule of the same session.
func TestSessionWithoutALab(t *testing.T) {
	ra := demoLab(t)
	s := hardness("Computed")
	status, needs := ra.do("POST", "/compute/needs", object{"session": s, "thresholds": object{"S-7": 0}})
	if text := needs["text"].(string); status != 200 || !strings.Contains(text, `"sentence":"75 mL for each of 12 places, 945 mL in all"`) {
		t.Errorf("%d %s", status, text)
	}
	status, supply := ra.do("POST", "/compute/supply", object{"session": s, "thresholds": object{}, "store": object{
		"bottles": []any{object{"id": "n", "number": 4, "name": "sodium hydroxide", "strength": 2, "unit": "mol/L", "left": 400, "known": true}},
		"flasks":  []any{object{"volume": 1000, "class": "A"}}, "class": "A", "substances": []any{},
	}})
	if text := supply["text"].(string); status != 200 || !strings.Contains(text, "Dilute bottle 4, 2 mol/L: 250 mL to 1 L; 400 mL left.") {
		t.Errorf("%d %s", status, text)
	}
	two := object{
		"tasks": []any{
			object{"id": "dry", "hands": 5, "wait": 120, "from": 0, "due": 480},
			object{"id": "weigh", "hands": 20, "wait": 0, "from": 0, "due": 480, "after": []any{"dry"}},
		},
		"people": []any{object{"name": "Imani Thorne", "hours": []any{object{"from": 0, "to": 480}}}}, "things": []any{},
	}
	got := ra.must(200, "POST", "/compute/schedule", two)
	latest, earliest := got["latest"].(object), got["earliest"].(object)
	if first := latest["placed"].([]any)[0].(object); first["start"] != 335.0 || latest["late"] != 0.0 || earliest["late"] != -335.0 || latest["proven"] != true {
		t.Errorf("%v", got)
	}
	two["people"] = []any{}
	ra.must(422, "POST", "/compute/schedule", two)
}

// A bottle that was made for a session says so on its label; any other does not.
func TestLabelNamesItsSession(t *testing.T) {
	db := demoRecords(t)
	l := lab.New(db, quick)
	ra := newPerson(t, newServer(t, db))
	ra.must(200, "POST", "/session", object{"login": "ashdown", "password": demo.Password})
	id, s := uuid.NewString(), hardness("Base in pond mud, with a title that is too long for any label")
	ra.must(200, "POST", "/lab-sessions", object{"id": id, "session": s, "version": 0})
	bottle := ra.must(200, "GET", "/bottles", nil)["items"].([]any)[0].(object)
	label := func() string {
		_, pdf := ra.do("GET", "/labels?paper=label&bottle="+bottle["id"].(string), nil)
		return pdfText(t, pdf["text"].(string))
	}
	if says := label(); strings.Contains(says, "for Base") {
		t.Errorf("before: %s", says)
	}
	people, err := l.People(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	of := lab.TaskOf{Session: id, Task: "make a", Title: "Make it"}
	if err := l.DoTask(t.Context(), lab.Actor{Account: people[0]}, bottle["runId"].(string), of); err != nil {
		t.Fatal(err)
	}
	day := time.Now().AddDate(0, 0, 9).Format("2 Jan")
	if says := label(); !strings.Contains(says, "for Base in pond mud, with a title that is too…, "+day) {
		t.Errorf("after: %s", says)
	}
	planned := ra.must(201, "POST", "/runs", object{
		"id": uuid.NewString(), "planId": ra.must(200, "GET", "/runs/"+bottle["runId"].(string), nil)["plan"].(object)["id"],
		"for": object{"session": id, "task": "make a", "title": "Make it again"},
	})
	past := ra.must(200, "GET", "/lab-sessions/"+id, nil)["past"].([]any)
	if last := past[len(past)-1].(object); len(past) != 2 || last["state"] != "begun" || last["run"] != planned["summary"].(object)["id"] {
		t.Errorf("%v", past)
	}
}
