package solution_test

import (
	"testing"

	"vialbench/core/verdict"
	"vialbench/core/weighing"
)

// A balance that failed its last check is not praised: the recipe says so first.
func TestABalanceThatFailedItsCheck(t *testing.T) {
	for _, failed := range []bool{false, true} {
		r := request("potassium-hydrogen-phthalate", "0.1 mol/L", "250 mL")
		r.Balance.FailedCheck = failed
		recipe, err := r.Recipe()
		if err != nil || len(recipe.Verdicts) != 1 {
			t.Fatalf("%+v, %v", recipe.Verdicts, err)
		}
		v := recipe.Verdicts[0]
		if (v.Rule == weighing.RuleCheck.ID) != failed || (v.Level == verdict.Stop) != failed {
			t.Errorf("failed %t: %s %s", failed, v.Level, v.Sentence)
		}
	}
}
