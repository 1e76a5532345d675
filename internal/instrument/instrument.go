// Package instrument talks to balances over a plain text line protocol on TCP, in
// the style of IEEE 488.2: a command or a query is one line that ends in a line
// feed, and each is answered with one line.
//
//	*IDN?    maker,model,serial,version
//	READ?    value,unit,state        like +5.1082,g,stable
//	TARE     OK
//
// The state of a reading is stable, moving, overload or underload; the value of an
// overload is 9.9E37. A line that cannot be carried out is answered with
// ERROR and a sentence.
package instrument

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"net"
	"strconv"
	"strings"
	"time"

	"vialbench/core/quantity"
)

// State of a reading.
type State string

// The states of a reading.
const (
	Stable    State = "stable"
	Moving    State = "moving"
	Overload  State = "overload"
	Underload State = "underload"
)

// Reading is what a balance shows.
type Reading struct {
	// Mass as shown, with its unit and decimals; zero in an overload.
	Mass  quantity.Quantity
	State State
}

// answerTime is how long an instrument may take to answer.
const answerTime = 2 * time.Second

// longestAnswer bounds a line of an instrument that has gone wrong.
const longestAnswer = 512

// Balance is a connection to one balance.
type Balance struct {
	conn net.Conn
	in   *bufio.Reader
}

// Dial connects to a balance at host:port.
func Dial(ctx context.Context, address string) (*Balance, error) {
	conn, err := (&net.Dialer{Timeout: answerTime}).DialContext(ctx, "tcp", address)
	if err != nil {
		return nil, fmt.Errorf("no answer at %s: %w", address, err)
	}
	return &Balance{conn, bufio.NewReaderSize(conn, longestAnswer)}, nil
}

// Close ends the connection.
func (b *Balance) Close() error { return b.conn.Close() }

// Ask sends a line and returns the answer to it.
func (b *Balance) Ask(line string) (string, error) {
	if strings.ContainsAny(line, "\r\n") {
		return "", errors.New("a command is one line")
	}
	if err := b.conn.SetDeadline(time.Now().Add(answerTime)); err != nil {
		return "", err
	}
	if _, err := b.conn.Write([]byte(line + "\n")); err != nil {
		return "", err
	}
	answer, err := b.in.ReadSlice('\n')
	if err != nil {
		return "", fmt.Errorf("the answer to %s did not come: %w", line, err)
	}
	text := strings.TrimRight(string(answer), "\r\n")
	if problem, ok := strings.CutPrefix(text, "ERROR "); ok {
		return "", errors.New(problem)
	}
	return text, nil
}

// Identity is what the balance says it is.
func (b *Balance) Identity() (string, error) { return b.Ask("*IDN?") }

// Tare sets the balance to zero.
func (b *Balance) Tare() error {
	_, err := b.Ask("TARE")
	return err
}

// Read returns what the balance shows now.
func (b *Balance) Read() (Reading, error) {
	answer, err := b.Ask("READ?")
	if err != nil {
		return Reading{}, err
	}
	return parseReading(answer)
}

func parseReading(answer string) (Reading, error) {
	parts := strings.Split(answer, ",")
	if len(parts) != 3 {
		return Reading{}, fmt.Errorf("“%s” is no reading: a value, a unit and a state were expected", answer)
	}
	state := State(strings.TrimSpace(parts[2]))
	switch state {
	case Overload, Underload:
		return Reading{State: state}, nil
	case Stable, Moving:
	default:
		return Reading{}, fmt.Errorf("“%s” is no state of a reading", parts[2])
	}
	value := strings.TrimSpace(parts[0])
	grams, err := strconv.ParseFloat(value, 64)
	if err != nil {
		return Reading{}, fmt.Errorf("“%s” is no number", value)
	}
	unit, err := quantity.FindUnit(strings.TrimSpace(parts[1]))
	if err != nil || unit.Dimension != quantity.Mass {
		return Reading{}, fmt.Errorf("“%s” is no unit of mass", parts[1])
	}
	_, decimals, _ := strings.Cut(value, ".")
	return Reading{quantity.Quantity{Value: grams, Unit: unit, Decimals: len(decimals)}, state}, nil
}
