package lab

import (
	"reflect"
	"testing"

	"vialbench/core/verdict"
)

// A rule has one name, one threshold within its limits, and a source.
func TestEveryRuleIsWhole(t *testing.T) {
	byID := map[string]verdict.Rule{}
	for _, k := range kinds {
		for _, r := range k.rules() {
			if known, twice := byID[r.ID]; twice && !reflect.DeepEqual(known, r) {
				t.Errorf("%s is two rules: “%s” and “%s”", r.ID, known.Title, r.Title)
			}
			byID[r.ID] = r
			if r.ID == "" || r.Title == "" || r.Why == "" || r.Source == "" {
				t.Errorf("%+v lacks something", r)
			}
			if r.Unit != "" && len(r.Words) == 0 && (r.Threshold < r.Min || r.Threshold > r.Max || r.Min >= r.Max) {
				t.Errorf("%s: %g is not within %g to %g", r.ID, r.Threshold, r.Min, r.Max)
			}
		}
	}
	if len(byID) < 20 {
		t.Errorf("%d rules", len(byID))
	}
}
