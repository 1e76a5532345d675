package lab

import (
	"context"
	"errors"
	"math"
	"strings"
	"time"

	"vialbench/core/quantity"
	"vialbench/core/verdict"
	"vialbench/internal/instrument"
	"vialbench/internal/standin"
	"vialbench/internal/store"
)

// Live is what a connected instrument shows now.
type Live struct {
	// Text is the reading with its unit and every digit; empty without one. Readings are
	// its quantities, the main one first.
	Text     string
	Readings []quantity.Quantity
	State    string // stable, moving, overload, underload or lost
	// Still tells that the reading may be taken; Spread is how far it moved in the
	// last moments, in the unit of the main quantity.
	Still  bool
	Spread *quantity.Quantity
	// Verdict is what to say when it is to be taken all the same.
	Verdict *verdict.Verdict
	// Says is what is wrong, in a sentence.
	Says string
	// Identity is what the instrument says it is, Standin that it is simulated.
	Identity string
	Standin  bool
}

// errNoBalance says that something else answers at the address of a balance.
var errNoBalance = errors.New("what answers shows no mass")

// stateLost says that the balance does not answer.
const stateLost = "lost"

// window is how long the readings are looked back on to tell whether they stand.
const window = 1200 * time.Millisecond

// WatchBalance passes on what a balance shows until the context ends.
func (l *Lab) WatchBalance(ctx context.Context, id string, show func(Live) error) error {
	db := l.store.With(ctx)
	balance, err := l.connected(db, id)
	if err != nil {
		return err
	}
	settings, err := db.Settings()
	if err != nil {
		return err
	}
	watching, stop := context.WithCancel(ctx)
	defer stop()
	var recent []instrument.Sample
	for sample := range l.feeds.Watch(watching, balance.Address) {
		live := lookAt(balance, &recent, sample, settings.Thresholds)
		live.Identity, live.Standin = sample.Identity, strings.HasPrefix(sample.Identity, standin.Model)
		if err := show(live); err != nil {
			return err
		}
	}
	return nil
}

// lookAt judges a sample by those of the last moments.
func lookAt(b store.Balance, recent *[]instrument.Sample, s instrument.Sample, t verdict.Thresholds) Live {
	if s.Err == nil && len(s.Quantities) > 0 && s.Main().Unit.Dimension != quantity.Mass {
		s.Err = errNoBalance
	}
	switch {
	case s.Err != nil:
		*recent = nil
		return Live{
			State: stateLost,
			Says:  b.Name + " does not answer: look at the cable and the power. It is looked for again; type the reading meanwhile.",
		}
	case s.State == instrument.Overload:
		*recent = nil
		return Live{State: string(s.State), Says: "Too much on the pan: take it off."}
	case s.State == instrument.Underload:
		*recent = nil
		return Live{State: string(s.State), Says: "The pan is not on, or lifted: put it right and tare."}
	}
	if n := len(*recent); n > 0 && tared((*recent)[n-1], s, b.Resolution) {
		*recent = nil
	}
	*recent = append(*recent, s)
	for len(*recent) > 1 && s.At.Sub((*recent)[0].At) > window {
		*recent = (*recent)[1:]
	}
	grams := make([]float64, len(*recent))
	for i, r := range *recent {
		grams[i] = r.Main().Base()
	}
	live := Live{Text: s.Main().String(), Readings: s.Quantities, State: string(s.State)}
	var spread float64
	if spread, live.Still = b.Settled(grams, s.State == instrument.Stable, t); !live.Still {
		v := b.Wandering(max(spread, b.Resolution))
		live.Verdict = &v
	}
	moved := quantity.Of(spread, "g")
	moved.Decimals = b.Decimals()
	live.Spread = &moved
	return live
}

// tared tells whether a balance was set to zero between two samples: it jumps, and
// stands before and after.
func tared(before, after instrument.Sample, resolution float64) bool {
	return before.State == instrument.Stable && after.State == instrument.Stable &&
		math.Abs(after.Main().Base()-before.Main().Base()) > 100*resolution
}

// TareBalance sets a connected balance to zero.
func (l *Lab) TareBalance(ctx context.Context, id string) error {
	connection, name, err := l.openBalance(ctx, id, instrument.Open)
	if err != nil {
		return err
	}
	if err = errors.Join(connection.Tare(), connection.Close()); err != nil {
		return Conflict{name + ": " + err.Error()}
	}
	return nil
}

// HandStandin does something to a balance that is a stand-in, and returns its state.
// A command is one of those of package standin without their prefix.
func (l *Lab) HandStandin(ctx context.Context, id, command string) (string, error) {
	const state = "STANDIN:STATE?"
	isStandin := func(answer string) bool { return strings.HasPrefix(answer, "pan=") }
	connection, name, err := l.openBalance(ctx, id, func(ctx context.Context, address string) (*instrument.Connection, error) {
		return instrument.OpenWith(ctx, address, state, isStandin) // which answers a hand also when it measures nothing
	})
	if err != nil {
		return "", err
	}
	if command != "" {
		_, err = connection.Ask("STANDIN:" + command)
	}
	answer := ""
	if err == nil {
		answer, err = connection.Ask(state)
	}
	if err = errors.Join(err, connection.Close()); err != nil {
		return "", Conflict{name + ": " + err.Error()}
	}
	return answer, nil
}

func (l *Lab) openBalance(
	ctx context.Context,
	id string,
	open func(context.Context, string) (*instrument.Connection, error),
) (c *instrument.Connection, name string, err error) {
	balance, err := l.connected(l.store.With(ctx), id)
	if err != nil {
		return nil, "", err
	}
	if c, err = open(ctx, balance.Address); err != nil {
		return nil, "", Conflict{balance.Name + " does not answer: look at the cable and the power"}
	}
	return c, balance.Name, nil
}

// connected finds a balance that has an address where instruments may stand.
func (l *Lab) connected(db *store.Store, id string) (store.Balance, error) {
	balance, err := db.BalanceByID(id)
	if err != nil {
		return balance, found(err, "this balance")
	}
	if balance.Address == "" {
		return balance, Conflict{balance.Name + " is not connected: its address stands in the lab setup"}
	}
	if err := l.Reach.Check(balance.Address); err != nil {
		return balance, Conflict{balance.Name + " is not connected: " + err.Error()}
	}
	return balance, nil
}
