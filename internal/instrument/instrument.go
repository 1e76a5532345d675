// Package instrument talks to instruments over a plain text line protocol on TCP, in
// the style of IEEE 488.2: a command or a query is one line that ends in a line
// feed, and each is answered with one line.
//
//	*IDN?    maker,model,serial,version
//	READ?    value,unit,state        like +5.1082,g,stable
//	TARE     OK                      of a balance
//	WAVELENGTH 880, BLANK, BASELINE  OK, of a photometer
//
// An instrument that shows several quantities at once names each with its unit before the
// state: +177.3,mV,20.4,°C,stable.
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
	"math"
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

// Reading is what an instrument shows.
type Reading struct {
	// Quantities as shown, with their units and decimals, the main one first; none in an
	// overload.
	Quantities []quantity.Quantity
	State      State
}

// Main is the main quantity; zero in an overload.
func (r Reading) Main() quantity.Quantity {
	if len(r.Quantities) == 0 {
		return quantity.Quantity{}
	}
	return r.Quantities[0]
}

// answerTime is how long an instrument may take to answer.
const answerTime = 2 * time.Second

// longestAnswer bounds a line of an instrument that has gone wrong.
const longestAnswer = 512

// Connection is a line to one instrument.
type Connection struct {
	// Identity is what the instrument says it is.
	Identity string

	greeting string
	conn     net.Conn
	in       *bufio.Reader
}

// Open connects to an instrument at host:port and asks what it is. What does not say so
// as an instrument does is told nothing else.
func Open(ctx context.Context, address string) (*Connection, error) {
	c, err := OpenWith(ctx, address, "*IDN?", isIdentity)
	if err == nil {
		c.Identity = c.greeting
	}
	return c, err
}

// OpenWith connects, asks something first, and goes on only with what answers as expected.
func OpenWith(ctx context.Context, address, first string, expected func(answer string) bool) (*Connection, error) {
	conn, err := (&net.Dialer{Timeout: answerTime}).DialContext(ctx, "tcp", address)
	if err != nil {
		return nil, fmt.Errorf("no answer at %s: %w", address, err)
	}
	c := &Connection{conn: conn, in: bufio.NewReaderSize(conn, longestAnswer)}
	if c.greeting, err = c.Ask(first); err == nil && !expected(c.greeting) {
		err = errors.New("what answers there is no instrument")
	}
	if err != nil {
		_ = conn.Close()
		return nil, err
	}
	return c, nil
}

// isIdentity reports whether an answer names maker, model, serial number and version.
func isIdentity(answer string) bool {
	parts := strings.Split(answer, ",")
	return len(parts) == 4 && strings.TrimSpace(parts[0]) != "" && strings.TrimSpace(parts[1]) != ""
}

// Close ends the connection.
func (c *Connection) Close() error { return c.conn.Close() }

// Ask sends a line and returns the answer to it.
func (c *Connection) Ask(line string) (string, error) {
	if strings.ContainsAny(line, "\r\n") {
		return "", errors.New("a command is one line")
	}
	if err := c.conn.SetDeadline(time.Now().Add(answerTime)); err != nil {
		return "", err
	}
	if _, err := c.conn.Write([]byte(line + "\n")); err != nil {
		return "", err
	}
	answer, err := c.in.ReadSlice('\n')
	if err != nil {
		return "", fmt.Errorf("the answer to %s did not come: %w", line, err)
	}
	text := strings.TrimRight(string(answer), "\r\n")
	if problem, ok := strings.CutPrefix(text, "ERROR "); ok {
		return "", errors.New(problem)
	}
	return text, nil
}

// Tare sets a balance to zero.
func (c *Connection) Tare() error { return c.done("TARE") }

// Read returns what the instrument shows now.
func (c *Connection) Read() (Reading, error) {
	answer, err := c.Ask("READ?")
	if err != nil {
		return Reading{}, err
	}
	return parseReading(answer)
}

func parseReading(answer string) (Reading, error) {
	parts := strings.Split(answer, ",")
	for i := range parts {
		parts[i] = strings.TrimSpace(parts[i])
	}
	if len(parts) < 3 || len(parts)%2 == 0 || len(parts) > 2*mostQuantities+1 {
		return Reading{}, fmt.Errorf("“%s” is not a reading: values with their units and a state were expected", answer)
	}
	reading := Reading{State: State(parts[len(parts)-1])}
	switch reading.State {
	case Overload, Underload:
		return reading, nil
	case Stable, Moving:
	default:
		return Reading{}, fmt.Errorf("“%s” is not a state of a reading", reading.State)
	}
	for i := 0; i+1 < len(parts); i += 2 {
		value, err := strconv.ParseFloat(parts[i], 64)
		if err != nil || math.IsNaN(value) || math.IsInf(value, 0) {
			return Reading{}, fmt.Errorf("“%s” is not a number", parts[i])
		}
		unit, err := quantity.FindUnit(parts[i+1])
		if err != nil {
			return Reading{}, err
		}
		_, decimals, _ := strings.Cut(parts[i], ".")
		reading.Quantities = append(reading.Quantities, quantity.Quantity{Value: value, Unit: unit, Decimals: len(decimals)})
	}
	return reading, nil
}

// mostQuantities is how many quantities one reading has at most.
const mostQuantities = 4

// SetWavelength sets a photometer to a wavelength in nm.
func (c *Connection) SetWavelength(nm float64) error {
	return c.done("WAVELENGTH " + strconv.FormatFloat(nm, 'g', -1, 64))
}

// Blank takes what is in the beam of a photometer as nothing, at its wavelength, or at every one of them.
func (c *Connection) Blank(everywhere bool) error {
	if everywhere {
		return c.done("BASELINE")
	}
	return c.done("BLANK")
}

// LongestScan is how many readings one scan takes at most.
const LongestScan = 2000

// Scan reads a photometer from one wavelength to another, so far apart, in nm. It ends with its context.
func (c *Connection) Scan(ctx context.Context, from, to, step float64) (nm, absorbance []float64, err error) {
	if !(step > 0) || !(to > from) || (to-from)/step > LongestScan {
		return nil, nil, fmt.Errorf("a scan leads upwards in at most %d steps", LongestScan)
	}
	for i := 0; from+float64(i)*step <= to+1e-9; i++ {
		at := from + float64(i)*step
		if ctx.Err() != nil {
			return nil, nil, fmt.Errorf("the time for a scan was over before %g nm: take wider steps, or a shorter range", at)
		}
		if err := c.SetWavelength(at); err != nil {
			return nil, nil, err
		}
		r, err := c.Read()
		if err != nil {
			return nil, nil, err
		}
		if r.Main().Unit.Dimension != quantity.Absorbance {
			return nil, nil, fmt.Errorf("at %g nm it shows no absorbance: too strong a solution, or no photometer", at)
		}
		nm, absorbance = append(nm, at), append(absorbance, r.Main().In("AU"))
	}
	return nm, absorbance, nil
}

// done sends a command that is answered with OK.
func (c *Connection) done(command string) error {
	answer, err := c.Ask(command)
	if err == nil && answer != "OK" {
		err = fmt.Errorf("“%s” is no answer to %s", answer, command)
	}
	return err
}
