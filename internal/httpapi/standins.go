package httpapi

import (
	"fmt"
	"strconv"
	"strings"

	"vialbench/core/verdict"
)

// handed are the commands of a request to a stand-in, of which it may be told one at a time.
type handed []string

func (h *handed) number(name string, x *float64) {
	if x != nil {
		*h = append(*h, name+" "+strconv.FormatFloat(*x, 'f', -1, 64))
	}
}

func (h *handed) word(name, word string) {
	if word != "" {
		*h = append(*h, strings.TrimSpace(name+" "+word))
	}
}

// one is the command; empty where only the state is asked for.
func (h handed) one() (string, error) {
	if len(h) > 1 {
		return "", verdict.Problems{{Field: "", Reason: "one thing at a time"}}
	}
	return strings.Join(h, ""), nil
}

// readStandin reads the state of a stand-in, name=value;…, into what is named.
func readStandin(state string, into map[string]any) error {
	for pair := range strings.SplitSeq(state, ";") {
		name, value, _ := strings.Cut(pair, "=")
		switch x := into[name].(type) {
		case *float64:
			var err error
			if *x, err = strconv.ParseFloat(value, 64); err != nil {
				return fmt.Errorf("the state of a stand-in, %q: %w", state, err)
			}
		case *string:
			*x = value
		case *bool:
			*x = value == "yes"
		}
	}
	return nil
}
