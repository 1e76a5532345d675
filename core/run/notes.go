package run

// Notes keep what is said of the steps of a sheet, and which facts each rests on.
type Notes struct {
	facts, says []noted // a sheet has few steps: looking through them beats a map
}

type noted struct{ step, text string }

// NewNotes makes room for so many facts.
func NewNotes(facts int) Notes {
	room := make([]noted, facts+12)
	return Notes{room[:0:facts], room[facts:facts]}
}

// Add notes that a step rests on a fact.
func (n *Notes) Add(step, factID string) { n.facts = append(n.facts, noted{step, factID}) }

// Say replaces what is said of a step.
func (n *Notes) Say(step, text string) {
	for i := range n.says {
		if n.says[i].step == step {
			n.says[i].text = text
			return
		}
	}
	n.says = append(n.says, noted{step, text})
}

// Has reports whether a step rests on any fact.
func (n *Notes) Has(step string) bool {
	for _, f := range n.facts {
		if f.step == step {
			return true
		}
	}
	return false
}

// Forget drops what is noted of a step.
func (n *Notes) Forget(step string) {
	n.facts, n.says = without(n.facts, step), without(n.says, step)
}

func without(list []noted, step string) []noted {
	kept := list[:0]
	for _, x := range list {
		if x.step != step {
			kept = append(kept, x)
		}
	}
	return kept
}

// place sets where every step stands, with what is noted of it, and returns which one
// is at hand: the first that is not done; -1 when all are, or when the run is void.
func (n *Notes) place(steps []Step, void bool, done func(*Step) bool) (atHand int) {
	atHand = -1
	ids := make([]string, 0, len(n.facts)) // of all steps, in one piece
	for i := range steps {
		s := &steps[i]
		switch {
		case done(s):
			s.State, s.Default, s.Expects, s.Asks, s.Ends, s.Clock, s.Stands = Done, "", "", false, nil, nil, nil
			for k := range s.Verdicts { // decided already
				s.Verdicts[k].Choices = nil
			}
		case atHand < 0 && !void:
			s.State, atHand = Now, i
		default:
			s.State, s.Default, s.Expects, s.Asks, s.Cautions, s.Verdicts, s.Stands = Coming, "", "", false, nil, nil, nil
		}
		first := len(ids)
		for _, f := range n.facts {
			if f.step == s.ID {
				ids = append(ids, f.text)
			}
		}
		if len(ids) > first {
			s.Facts = ids[first:len(ids):len(ids)]
		}
		for _, x := range n.says {
			if x.step == s.ID {
				s.Summary = x.text
			}
		}
	}
	return atHand
}
