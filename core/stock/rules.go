package stock

import "vialbench/core/verdict"

// The rules of the store.
var (
	RuleMinimum = verdict.Rule{
		ID: "ST-1", Title: "Order at the minimum",
		Why: "The minimum is what lasts while an order is on its way.", Source: "common practice",
	}
	RulePlanned = verdict.Rule{
		ID: "ST-2", Title: "Enough for the sessions planned",
		Why: "An order takes days: what is short on the morning of a class is short for good.", Source: "common practice",
	}
	RuleExpired = verdict.Rule{
		ID: "ST-3", Title: "What has expired does not count",
		Why: "Nobody can say what is left of it, or what it has become.", Source: "common practice",
	}
	RuleCount = verdict.Rule{
		ID: "ST-4", Title: "Count what cannot be",
		Why: "More was taken than was there: something was poured from another container, spilled, or counted wrong.", Source: "common practice",
	}
	RuleOpened = verdict.Rule{
		ID: "ST-5", Title: "What is open is used up first",
		Why: "What was opened takes up water and air; and two open containers hide how little is left.", Source: "common practice",
	}
)

// Rules lists the rules of the store.
func Rules() []verdict.Rule {
	return []verdict.Rule{RuleMinimum, RulePlanned, RuleExpired, RuleCount, RuleOpened}
}
