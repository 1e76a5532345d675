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
	// Still reports whether the reading may be taken; Spread is how far it moved in the
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
	// Predicted says where a probe is going, while it still moves; PH what the reading is
	// under the newest calibration of the meter.
	Predicted *Prediction
	PH        string
	// Band is by how much a probe may move and count as settled, mV; 0 of a balance.
	Band float64
	// Watched says how much of the time that it takes to tell was seen, “4 of 10 s”; empty
	// once it was.
	Watched string
}

// Prediction is where a probe is going, in words, and when it will be there, s. Settling is
// its time constant, s.
type Prediction struct {
	MV       float64
	Text     string
	Wait     float64
	Settling float64
}

// stateLost says that the instrument does not answer.
const stateLost = "lost"

// window is how long the readings of a balance are looked back on to tell whether they
// stand.
const window = 1200 * time.Millisecond

// lost is what is said of an instrument that does not answer.
func lost(name string) Live {
	return Live{
		State: stateLost,
		Says:  name + " does not answer: look at the cable and the power. It is looked for again; type the reading meanwhile.",
	}
}

// connection is an instrument that may be connected.
type connection struct{ name, address, model string }

// watch passes on what an instrument shows until the context ends, as look sees it.
func (l *Lab) watch(ctx context.Context, at connection, show func(Live) error, look func(instrument.Sample) Live) error {
	if err := l.reachable(at); err != nil {
		return err
	}
	watching, stop := context.WithCancel(ctx)
	defer stop()
	for sample := range l.feeds.Watch(watching, at.address) {
		live := look(sample)
		live.Identity, live.Standin = sample.Identity, strings.HasPrefix(sample.Identity, at.model)
		if err := show(live); err != nil {
			return err
		}
	}
	return nil
}

// reachable reports whether an instrument has an address where instruments may stand.
func (l *Lab) reachable(at connection) error {
	if at.address == "" {
		return Conflict{at.name + " is not connected: its address stands in the lab setup"}
	}
	if err := l.Reach.Check(at.address); err != nil {
		return Conflict{at.name + " is not connected: " + err.Error()}
	}
	return nil
}

// WatchBalance passes on what a balance shows until the context ends.
func (l *Lab) WatchBalance(ctx context.Context, id string, show func(Live) error) error {
	balance, err := l.balanceAt(ctx, id)
	if err != nil {
		return err
	}
	settings, err := l.store.With(ctx).Settings()
	if err != nil {
		return err
	}
	var recent []instrument.Sample
	return l.watch(ctx, balanceLine(balance), show, func(s instrument.Sample) Live { return lookAt(balance, &recent, s, settings.Thresholds) })
}

func (l *Lab) balanceAt(ctx context.Context, id string) (store.Balance, error) {
	balance, err := l.store.With(ctx).BalanceByID(id)
	return balance, found(err, "this balance")
}

func balanceLine(b store.Balance) connection {
	return connection{b.Name, b.Address, standin.BalanceModel}
}

// lookAt judges a sample by those of the last moments.
func lookAt(b store.Balance, recent *[]instrument.Sample, s instrument.Sample, t verdict.Thresholds) Live {
	switch {
	case s.Err != nil || len(s.Quantities) > 0 && s.Main().Unit.Dimension != quantity.Mass: // something else answers there
		*recent = nil
		return lost(b.Name)
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

// tared reports whether a balance was set to zero between two samples: it jumps, and
// stands before and after.
func tared(before, after instrument.Sample, resolution float64) bool {
	return before.State == instrument.Stable && after.State == instrument.Stable &&
		math.Abs(after.Main().Base()-before.Main().Base()) > 100*resolution
}

// TareBalance sets a connected balance to zero.
func (l *Lab) TareBalance(ctx context.Context, id string) error {
	balance, err := l.balanceAt(ctx, id)
	if err != nil {
		return err
	}
	line, err := l.open(ctx, balanceLine(balance), instrument.Open)
	if err != nil {
		return err
	}
	if err = errors.Join(line.Tare(), line.Close()); err != nil {
		return Conflict{balance.Name + ": " + err.Error()}
	}
	return nil
}

// HandStandin does something to a balance that is a stand-in, and returns its state.
// A command is one of those of package standin without their prefix.
func (l *Lab) HandStandin(ctx context.Context, id, command string) (string, error) {
	balance, err := l.balanceAt(ctx, id)
	if err != nil {
		return "", err
	}
	return l.handStandin(ctx, balanceLine(balance), "pan=", command)
}

// handStandin does something to a stand-in, whose state begins as given.
func (l *Lab) handStandin(ctx context.Context, at connection, begins, command string) (string, error) {
	const state = "STANDIN:STATE?"
	isStandin := func(answer string) bool { return strings.HasPrefix(answer, begins) }
	line, err := l.open(ctx, at, func(ctx context.Context, address string) (*instrument.Connection, error) {
		return instrument.OpenWith(ctx, address, state, isStandin) // which answers a hand also when it measures nothing
	})
	if err != nil {
		return "", err
	}
	if command != "" {
		_, err = line.Ask("STANDIN:" + command)
	}
	answer := ""
	if err == nil {
		answer, err = line.Ask(state)
	}
	if err = errors.Join(err, line.Close()); err != nil {
		return "", Conflict{at.name + ": " + err.Error()}
	}
	return answer, nil
}

func (l *Lab) open(
	ctx context.Context,
	at connection,
	open func(context.Context, string) (*instrument.Connection, error),
) (*instrument.Connection, error) {
	if err := l.reachable(at); err != nil {
		return nil, err
	}
	line, err := open(ctx, at.address)
	if err != nil {
		return nil, Conflict{at.name + " does not answer: look at the cable and the power"}
	}
	return line, nil
}
