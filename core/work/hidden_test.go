package work_test

import (
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"vialbench/core/run"
	"vialbench/core/work"
)

var number = regexp.MustCompile(`\d+(\.\d+)?`)

// What is hidden of the sample records: no figure is left, a folded step says what was read and nothing that was computed from it,
// and of the verdicts those stay that somebody has to decide.
func TestHidden(t *testing.T) {
	folded, judged, decided := 0, 0, 0
	for _, r := range records(t) {
		plan, err := work.Plan{Kind: r.Kind, Request: r.Request, Batch: r.Batch}.Read()
		if err != nil {
			t.Fatal(err)
		}
		now := r.Facts[len(r.Facts)-1].At.Add(time.Minute)
		said := ""
		for n, f := range r.Facts {
			said += plan.Sentence(f) + "; "
			open, err := plan.Make(r.Facts[:n+1], now)
			if err != nil {
				t.Fatal(err)
			}
			shown, err := run.Hidden{Figures: true, Verdicts: true}.From(open, plan, r.Facts[:n+1], now)
			if err != nil || len(shown.Figures) > 0 || shown.Status != open.Status || len(shown.Steps) != len(open.Steps) {
				t.Fatalf("%s after %d: %v, %d figures, %s", r.Kind, n+1, err, len(shown.Figures), shown.Status)
			}
			for i, s := range shown.Steps {
				was := open.Steps[i]
				for _, text := range number.FindAllString(s.Summary, -1) {
					if !strings.Contains(said, text) && !strings.Contains(s.Title, text) && !strings.HasPrefix(s.Summary, s.Title+": "+text+" entries") {
						t.Fatalf("%s: %q says %s, which nobody read", r.Kind, s.Summary, text)
					}
				}
				if was.Summary != s.Summary {
					folded++
				}
				judged += len(was.Verdicts)
				for _, v := range s.Verdicts {
					decided++
					if len(v.Choices) == 0 || number.MatchString(v.Sentence) || v.Reason != "" {
						t.Fatalf("%s: %+v", r.Kind, v)
					}
					for _, c := range v.Choices {
						if c.Label == "" || strings.Contains(c.Label, " more") && number.MatchString(c.Label) {
							t.Fatalf("%s: %+v", r.Kind, c)
						}
					}
				}
				choices := func(of run.Step) (ids []string) {
					for _, v := range of.Verdicts {
						for _, c := range v.Choices {
							ids = append(ids, c.ID)
						}
					}
					return ids
				}
				if !slices.Equal(slices.Sorted(slices.Values(choices(was))), slices.Sorted(slices.Values(choices(s)))) {
					t.Fatalf("%s: %v can be decided, and was %v", r.Kind, choices(s), choices(was))
				}
			}
		}
	}
	if folded < 100 || judged < 100 || decided < 5 {
		t.Errorf("%d folded steps, %d verdicts, %d of them to decide: the sample records show too little", folded, judged, decided)
	}
}

// Nothing is hidden from who may see all of it, and either can be hidden alone.
func TestHiddenAlone(t *testing.T) {
	for _, r := range records(t) {
		plan, err := work.Plan{Kind: r.Kind, Request: r.Request, Batch: r.Batch}.Read()
		if err != nil {
			t.Fatal(err)
		}
		now := r.Facts[len(r.Facts)-1].At.Add(time.Minute)
		out, err := plan.Make(r.Facts, now)
		if err != nil {
			t.Fatal(err)
		}
		for _, h := range []run.Hidden{{}, {Verdicts: true}, {Figures: true}} {
			shown, err := h.From(out, plan, r.Facts, now)
			if err != nil {
				t.Fatal(err)
			}
			if got := len(shown.Figures) == len(out.Figures); got == h.Figures && len(out.Figures) > 0 {
				t.Errorf("%s: %+v shows %d figures", r.Kind, h, len(shown.Figures))
			}
			for i := range shown.Steps {
				if same := shown.Steps[i].Summary == out.Steps[i].Summary; !same && !h.Figures {
					t.Errorf("%s: %+v folds %q", r.Kind, h, shown.Steps[i].Summary)
				}
				if !h.Verdicts && len(shown.Steps[i].Verdicts) != len(out.Steps[i].Verdicts) {
					t.Errorf("%s: %+v leaves verdicts out", r.Kind, h)
				}
			}
		}
	}
}

// A tablet that goes on by itself hides the same.
func TestHiddenAhead(t *testing.T) {
	for _, r := range records(t) {
		q := work.Question{
			Plan:  work.Plan{Kind: r.Kind, Request: r.Request, Batch: r.Batch},
			Facts: r.Facts, Now: r.Facts[len(r.Facts)-1].At.Add(time.Minute),
		}
		open, err := work.Ahead(q)
		if err != nil {
			t.Fatal(err)
		}
		q.Hides.Figures = true
		shown, err := work.Ahead(q)
		if err != nil || len(shown.Outcome.Figures) > 0 || len(shown.Outcome.Steps) != len(open.Outcome.Steps) {
			t.Errorf("%s: %v, %d of %d figures", r.Kind, err, len(shown.Outcome.Figures), len(open.Outcome.Figures))
		}
	}
}
