// Package standin holds simulated instruments that behave and misbehave like real
// ones, for practice without glass and for tests. They speak the protocol of
// package instrument, and beside it commands by which a hand, or a script, does to
// them what happens at a bench:
//
//	STANDIN:LINK OFF       or ON: the cable is out; measuring connections break
//	STANDIN:STATE?         all of it, as name=value pairs
//
// and those of each instrument.
package standin

import (
	"fmt"
	"math"
	"strconv"
	"strings"
	"sync"
)

// Maker is the first field of *IDN? of every stand-in.
const Maker = "Vial Bench"

// Instrument is a simulated instrument.
type Instrument interface {
	// Do carries out one line and returns the answer. Without its cable only the hand
	// commands are answered, and ok is false for all else.
	Do(line string) (answer string, ok bool)
}

// device is what an instrument does on its line.
type device interface {
	measure(command, argument string) (answer string)
	hand(command, argument string) error
	state() string
}

// line is the line of an instrument, which serves one command at a time.
type line struct {
	mu     sync.Mutex
	device device
	linked bool
}

// Do implements [Instrument].
func (l *line) Do(text string) (answer string, ok bool) {
	l.mu.Lock()
	defer l.mu.Unlock()
	command, argument, _ := strings.Cut(strings.ToUpper(strings.TrimSpace(text)), " ")
	hand, is := strings.CutPrefix(command, "STANDIN:")
	if !is {
		if !l.linked {
			return "", false
		}
		return l.device.measure(command, strings.TrimSpace(argument)), true
	}
	var err error
	switch argument = strings.TrimSpace(argument); hand {
	case "STATE?":
		return l.device.state(), true
	case "LINK":
		err = either(argument, &l.linked, "ON", "OFF")
	default:
		err = l.device.hand(hand, argument)
	}
	if err != nil {
		return "ERROR " + err.Error(), true
	}
	return "OK", true
}

func number(argument string) (float64, error) {
	x, err := strconv.ParseFloat(argument, 64)
	if err != nil || math.IsNaN(x) || math.Abs(x) > 1e6 {
		return 0, fmt.Errorf("a number was expected, not “%s”", argument)
	}
	return x, nil
}

func either(argument string, target *bool, yes, no string) error {
	if argument != yes && argument != no {
		return fmt.Errorf("%s or %s", yes, no)
	}
	*target = argument == yes
	return nil
}

func word(yes bool, a, b string) string {
	if yes {
		return a
	}
	return b
}
