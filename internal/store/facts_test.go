package store

import (
	"fmt"
	"testing"
)

// What is remembered of a run is handed out whole, never shared for writing, and bounded.
func TestMemoryOfFacts(t *testing.T) {
	m := &memory{}
	list := func(n int) (facts []Fact) {
		for i := range n {
			facts = append(facts, Fact{ID: fmt.Sprint(i), Seq: int64(i + 1)})
		}
		return facts
	}
	m.keep("a", list(3))
	first := append(m.of("a"), Fact{ID: "x"})
	second := append(m.of("a"), Fact{ID: "y"})
	if first[3].ID != "x" || second[3].ID != "y" || len(m.of("a")) != 3 {
		t.Errorf("%v %v", first[3], second[3])
	}
	m.keep("a", list(2)) // an older view
	if n := len(m.of("a")); n != 3 {
		t.Errorf("%d facts after an older view", n)
	}
	m.keep("huge", list(mostRemembered+1))
	if m.of("huge") != nil {
		t.Error("more is kept than may be")
	}
	for i := range 5 {
		m.keep(fmt.Sprint("run ", i), list(mostRemembered/4))
	}
	kept := 0
	for _, facts := range m.runs {
		kept += len(facts)
	}
	if kept != m.facts || kept > mostRemembered || len(m.of("run 4")) != mostRemembered/4 {
		t.Errorf("%d are kept, %d counted", kept, m.facts)
	}
	m.forget("run 4")
	if m.of("run 4") != nil || m.facts != kept-mostRemembered/4 {
		t.Errorf("%d counted after one was forgotten", m.facts)
	}
}
