package lab

import (
	"context"
	"crypto/sha256"
	"encoding/json"
	"sync"
	"time"

	"vialbench/core/session"
)

// designs remembers the plan of each session with what it was worked out from: the schedule is the dear part of it, and
// most of what changes in a lab changes no plan.
type designs struct {
	mu    sync.Mutex
	known map[string]knownDesign
}

type knownDesign struct {
	from   [sha256.Size]byte
	design session.Design
}

// of is the plan of a session; own are the lab's substances, all others are those of the library.
func (d *designs) of(ctx context.Context, id string, q session.Question, own []byte) (session.Design, error) {
	from, err := digestOfPlan(q, own)
	if err != nil {
		return session.Design{}, err
	}
	d.mu.Lock()
	known, ok := d.known[id]
	d.mu.Unlock()
	if ok && known.from == from {
		return known.design, nil
	}
	within, cancel := context.WithTimeout(ctx, planTime)
	defer cancel()
	design, err := session.Plan(within, q)
	if err != nil || within.Err() != nil { // what was found in a hurry is not kept
		return design, err
	}
	d.mu.Lock()
	defer d.mu.Unlock()
	if d.known == nil || len(d.known) > 2*mostSessions {
		d.known = map[string]knownDesign{}
	}
	d.known[id] = knownDesign{from, design}
	return design, nil
}

// digestOfPlan tells questions apart; of the time, every five minutes.
func digestOfPlan(q session.Question, own []byte) (sum [sha256.Size]byte, err error) {
	q.Now = q.Now.Truncate(5 * time.Minute)
	q.Store.Substances = nil
	text, err := json.Marshal(q)
	if err != nil {
		return sum, err
	}
	return sha256.Sum256(append(text, own...)), nil
}
