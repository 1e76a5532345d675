//go:build js && wasm

// Command ahead is the core for a browser: it says where a run stands while no server can be reached, by
// the same rules.
package main

import (
	"encoding/json"
	"fmt"
	"syscall/js"

	"vialbench/core/verdict"
	"vialbench/core/work"
)

// answered is an answer, or what the rules refuse; or why it could not be found out.
type answered struct {
	Answer   *work.Answer     `json:"answer,omitempty"`
	Problems verdict.Problems `json:"problems,omitempty"`
	Failed   string           `json:"failed,omitempty"`
}

func main() {
	js.Global().Set("carryOn", js.FuncOf(func(_ js.Value, args []js.Value) any { return carryOn(args[0].String()) }))
	select {}
}

// carryOn answers a work.Question as JSON with an answered.
func carryOn(question string) string {
	var q work.Question
	var out answered
	err := json.Unmarshal([]byte(question), &q)
	if err == nil {
		var a work.Answer
		if a, err = work.Ahead(q); err == nil {
			out.Answer = &a
		}
	}
	if problems, ok := err.(verdict.Problems); ok { //nolint:errorlint // made by the core
		out.Problems = problems
	} else if err != nil {
		out.Failed = err.Error()
	}
	text, err := json.Marshal(out)
	if err != nil {
		return fmt.Sprintf(`{"failed": %q}`, err)
	}
	return string(text)
}
