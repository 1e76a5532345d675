package httpapi

import (
	"strings"
	"testing"
)

// A NUL is found however it is written, and a backslash with the letters u0000 is none.
func TestWhatIsANUL(t *testing.T) {
	for body, want := range map[string]bool{
		`{"text": "a\u0000b"}`: true, `{"text": "a\\u0000b"}`: false, `{"text": "\\\u0000"}`: true, `{"text": "\\\\u0000"}`: false,
		`{"text": "\\u0000 \u0000"}`: true, "{\"text\": \"\x00\"}": true, `{"text": "u0000"}`: false, "": false,
	} {
		if got := unsound([]byte(body)) == noNUL; got != want {
			t.Errorf("%q: %t", body, got)
		}
	}
}

// Depth, width and number are bounded, and only what is no text counts.
func TestStructureOfBodies(t *testing.T) {
	list := func(n int) string { return "[" + strings.Repeat("1,", n-1) + "1]" }
	nested := func(n int) string { return strings.Repeat("[", n) + strings.Repeat("]", n) }
	for body, want := range map[string]string{
		nested(mostDepth):     "",
		nested(mostDepth + 1): "nested",
		list(mostMembers):     "",
		list(mostMembers + 1): "members",
		"[" + strings.Repeat(list(mostMembers-1)+",", 9) + "1]":  "",
		"[" + strings.Repeat(list(mostMembers-1)+",", 10) + "1]": "values",
		`"` + strings.Repeat("[,", 30000) + `"`:                  "",
		`"\"` + strings.Repeat("[", 100) + `"`:                   "",
		"]]]]" + nested(mostDepth):                               "",
	} {
		if got := unsound([]byte(body)); (got == "") != (want == "") || !strings.Contains(got, want) {
			t.Errorf("%.40s…: “%s”, want %s", body, got, want)
		}
	}
}

func BenchmarkUnsound(b *testing.B) {
	body := []byte(`{"question": {` + strings.Repeat(`"amount": "12.5 mL", `, 500) + `"last": 1}}`)
	b.SetBytes(int64(len(body)))
	for b.Loop() {
		unsound(body)
	}
}
