package httpapi_test

import (
	"context"
	"encoding/csv"
	"fmt"
	"os/exec"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"vialbench/demo"
	"vialbench/internal/lab"
	"vialbench/internal/store"
	"vialbench/internal/store/storetest"
)

// pdfText reads a PDF with a reader that is not ours: what a person would read off it.
func pdfText(t *testing.T, pdf string) string {
	t.Helper()
	return strings.Join(pdfPages(t, pdf), " ")
}

// pdfPages is the text of a PDF, page by page.
func pdfPages(t *testing.T, pdf string) []string {
	t.Helper()
	read := exec.Command("pdftotext", "-layout", "-", "-")
	read.Stdin = strings.NewReader(pdf)
	text, err := read.Output()
	if err != nil {
		t.Fatalf("pdftotext, of Debian's poppler-utils: %v", err)
	}
	var pages []string
	for page := range strings.SplitSeq(strings.TrimSuffix(string(text), "\f"), "\f") {
		pages = append(pages, strings.Join(strings.Fields(page), " "))
	}
	return pages
}

func TestMain(m *testing.M) { storetest.Main(m) }

// demoRecords is a database of its own with the sample records.
func demoRecords(t *testing.T) *store.Store {
	t.Helper()
	return storetest.Filled(t, "demo", func(s *store.Store) error {
		_, err := demo.Load(context.Background(), lab.New(s, quick))
		return err
	})
}

// demoLab serves the sample records to Rowan Ashdown.
func demoLab(t *testing.T) *person {
	t.Helper()
	ra := newPerson(t, newServer(t, demoRecords(t)))
	ra.must(200, "POST", "/session", object{"login": "ashdown", "password": demo.Password})
	return ra
}

// Whatever stands on the shelf, its label says on every paper how strong it is and how
// well that is known, what it is, who made it, until when it keeps and how hazardous it is.
func TestEveryLabelSaysHowStrong(t *testing.T) {
	ra := demoLab(t)
	bottles := ra.must(200, "GET", "/bottles", nil)["items"].([]any)
	if len(bottles) != 15 {
		t.Fatalf("%d bottles", len(bottles))
	}
	for i, item := range bottles {
		bottle := ra.must(200, "GET", "/bottles/"+item.(object)["id"].(string), nil)
		figure := bottle["concentration"].(object)
		strong := fmt.Sprintf("%s ± %s %s", figure["text"], figure["uText"], figure["unit"])
		if figure["value"] == 0.0 { // the blank of a rack
			strong = fmt.Sprintf("0 %s", figure["unit"])
		} else if !regexp.MustCompile(`^[\d.]+ ± [\d.]+ (mol/L|mg/L P)$`).MatchString(strong) {
			t.Errorf("the concentration is %q", strong)
		}
		expires, err := time.Parse(time.DateOnly, bottle["expires"].(string)[:10])
		if err != nil {
			t.Fatal(err)
		}
		papers := []string{"label", "a4", "letter", "vials", "vial"}
		if i > 0 { // the first one on all, the others on two each
			papers = []string{papers[i%5], papers[(i+1)%5]}
		}
		for _, paper := range papers {
			status, pdf := ra.do("GET", "/labels?bottle="+bottle["id"].(string)+"&paper="+paper, nil)
			if status != 200 {
				t.Fatal(status)
			}
			says := pdfText(t, pdf["text"].(string))
			name, _, _ := strings.Cut(bottle["name"].(string), " ")
			place := fmt.Sprintf("bottle %v", bottle["number"])
			if n := bottle["number"].(float64); bottle["tube"] == true && n < 10 { // bottles 4 to 6 are a rack, 10 to 15 another one
				place = fmt.Sprintf("tube %v, ", n-3) + place
			} else if bottle["tube"] == true {
				place = fmt.Sprintf("tube %v, ", n-9) + place
			}
			if !strings.Contains(says, place) || strings.Contains(says, "tube") != (bottle["tube"] == true) {
				t.Errorf("on %s, %s does not stand: %s", paper, place, says)
			}
			if strings.Contains(says, "IN DOUBT") {
				t.Errorf("bottle %v is in doubt: %s", bottle["number"], says)
			}
			for _, want := range []string{strong, name, expires.Format(time.DateOnly), bottle["by"].(string)} {
				if !strings.Contains(says, want) {
					t.Errorf("on %s, bottle %v does not say %q: %s", paper, bottle["number"], want, says)
				}
			}
			if bottle["name"] == "Phosphate buffer" && !strings.HasPrefix(paper, "vial") && !strings.Contains(says, "pH 7.021 ± 0.018 read at 21.4 °C") {
				t.Errorf("on %s, the buffer does not say its pH: %s", paper, says)
			}
			if signal, _ := bottle["signal"].(string); signal != "" && !strings.Contains(says, signal) {
				t.Errorf("on %s, bottle %v does not say %s: %s", paper, bottle["number"], signal, says)
			}
		}
	}
}

// The logbook as a table has a line for every fact, with its fields in their columns; the
// record of the plans reads back as it was written.
func TestTablesCarryTheirFields(t *testing.T) {
	ra := demoLab(t)
	table := func(path string) [][]string {
		t.Helper()
		_, answer := ra.do("GET", path, nil)
		lines, err := csv.NewReader(strings.NewReader(strings.TrimPrefix(answer["text"].(string), "\ufeff"))).ReadAll()
		if err != nil {
			t.Fatal(err)
		}
		return lines
	}
	log := table("/logbook.csv")
	facts := 0
	for _, run := range ra.must(200, "GET", "/export", nil)["runs"].([]any) {
		facts += len(run.(object)["facts"].([]any))
	}
	if len(log) != facts+1 {
		t.Errorf("%d lines for %d facts", len(log)-1, facts)
	}
	column := func(name string) int {
		t.Helper()
		i := slices.Index(log[0], name)
		if i < 0 {
			t.Fatalf("no column %s in %v", name, log[0])
		}
		return i
	}
	corrected := false
	for _, line := range log[1:] {
		if _, err := time.Parse(
			time.RFC3339,
			line[column("time (UTC)")],
		); err != nil || !slices.Contains([]string{"RA", "IT"}, line[column("person")]) ||
			line[column("fact")] == "" {
			t.Errorf("%v, %v", line, err)
		}
		corrected = corrected || line[column("reason of the correction")] != ""
	}
	if !corrected {
		t.Error("no line says why a reading was corrected")
	}
	for name, want := range map[string]string{"plans": "concentration", "equipment": "volume"} {
		if lines := table("/tables/" + name); len(lines) < 2 ||
			!slices.ContainsFunc(lines[0], func(c string) bool { return strings.HasPrefix(c, want) }) {
			t.Errorf("%s: %v", name, lines)
		}
	}
}
