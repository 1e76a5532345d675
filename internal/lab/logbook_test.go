package lab_test

import (
	"slices"
	"strings"
	"testing"

	"vialbench/internal/lab"
	"vialbench/internal/store"
)

// A word is found in what was stated, in the reason of a correction and in the title of a run, in any
// case and as it is written; page after page, each line once and in order.
func TestLogbookFindsWords(t *testing.T) {
	l, ra, _ := newLab(t)
	if _, err := l.Import(t.Context(), ra, sample(t), false); err != nil {
		t.Fatal(err)
	}
	var all []lab.Entry
	if err := l.EachEntry(t.Context(), store.LogFilter{}, func(e lab.Entry) error { all = append(all, e); return nil }); err != nil {
		t.Fatal(err)
	}
	reason := all[slices.IndexFunc(all, func(e lab.Entry) bool { return e.Reason != "" })].Reason
	counts := map[string]int{}
	for _, word := range []string{"weighed", "WEIGHED", "phthalate", reason, "20", "%", "_", `\`, "zirconium"} {
		for _, who := range []string{"", "IT"} {
			var want, got []int64
			has := func(text string) bool { return strings.Contains(strings.ToLower(text), strings.ToLower(word)) }
			for _, e := range all {
				if (has(e.Sentence) || has(e.Reason) || has(e.Title)) && (who == "" || e.By == who) {
					want = append(want, e.Seq)
				}
			}
			for cursor := int64(0); ; {
				page, err := l.Logbook(t.Context(), store.LogFilter{Text: word, Initials: who}, cursor)
				if err != nil {
					t.Fatal(err)
				}
				for _, e := range page.Items {
					got = append(got, e.Seq)
				}
				if cursor = page.Next; cursor == 0 {
					break
				}
			}
			if !slices.Equal(got, want) {
				t.Errorf("“%s” by “%s”: %d lines, want %d", word, who, len(got), len(want))
			}
			counts[word+who] = len(got)
		}
	}
	if counts["weighed"] == 0 || counts["weighed"] != counts["WEIGHED"] || counts["zirconium"] != 0 || counts["phthalate"] <= 50 ||
		counts[reason] == 0 || counts["20IT"] >= counts["20"] {
		t.Errorf("%v", counts)
	}
}

// A corrected line says by whom and why, and the correction is a line of its own.
func TestLogbookSaysWhatWasCorrected(t *testing.T) {
	l, ra, _ := newLab(t)
	if _, err := l.Import(t.Context(), ra, sample(t), false); err != nil {
		t.Fatal(err)
	}
	corrected, corrections := 0, map[string]bool{}
	err := l.EachEntry(t.Context(), store.LogFilter{}, func(e lab.Entry) error {
		f, err := e.Fact()
		if err != nil {
			return err
		}
		if f.Replaces != "" {
			corrections[f.Replaces] = true
		}
		if e.Corrected != corrections[f.ID] || e.Corrected != (e.CorrectedBy != "" && e.CorrectedReason != "") {
			t.Errorf("%s: corrected %v by “%s”, “%s”", e.Sentence, e.Corrected, e.CorrectedBy, e.CorrectedReason)
		}
		if e.Corrected {
			corrected++
		}
		if e.RunNumber == 0 || e.Title == "" || e.By == "" || e.RunID == "" || e.MadeAt.IsZero() || e.RecordedAt.IsZero() {
			t.Errorf("%+v", e)
		}
		return nil
	})
	if err != nil || corrected == 0 || corrected != len(corrections) {
		t.Errorf("%d corrected lines, %d corrections, %v", corrected, len(corrections), err)
	}
}
