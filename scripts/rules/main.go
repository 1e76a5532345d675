// Command rules writes docs/rules.md from the rules of the core.
package main

import (
	"fmt"
	"os"
	"strings"

	"vialbench/internal/lab"
)

func main() {
	var b strings.Builder
	b.WriteString(
		"# The rules\n\nGenerated from the core by `make generate`; do not edit.\n\nA lab sets the thresholds in its setup. A verdict on a screen names its rule.\n\n",
	)
	b.WriteString("| rule | what it is about | default | range | why | source |\n|---|---|---|---|---|---|\n")
	for _, r := range lab.Rules() {
		threshold, bounds := "", ""
		switch {
		case len(r.Words) > 0:
			threshold, bounds = r.Words[int(r.Threshold)], strings.Join(r.Words, " or ")
		case r.Unit == "days" && r.Threshold == 1:
			threshold, bounds = "1 day", fmt.Sprintf("%g–%g", r.Min, r.Max)
		case r.Unit != "":
			threshold, bounds = fmt.Sprintf("%g %s", r.Threshold, r.Unit), fmt.Sprintf("%g–%g", r.Min, r.Max)
		}
		fmt.Fprintf(&b, "| %s | %s | %s | %s | %s | %s |\n", r.ID, r.Title, threshold, bounds, r.Why, r.Source)
	}
	if err := os.WriteFile("docs/rules.md", []byte(b.String()), 0o644); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}
