package standin

import (
	"fmt"
	"math"
	"math/rand/v2"
	"time"
)

// BalanceModel is the maker and model of the stand-in balance: the first two fields of
// *IDN?.
const BalanceModel = Maker + ",stand-in balance"

// The behaviour of the balance.
const (
	settling     = 150 * time.Millisecond  // time constant of the indication
	settledAfter = 1500 * time.Millisecond // how long after a change it may say stable
	openNoise    = 6.0                     // last digits, door open
	draughtNoise = 14.0                    // last digits, in a draught
)

// Balance is a simulated balance. Its hand commands:
//
//	STANDIN:PAN 5.108      so much lies on the pan in all, g
//	STANDIN:ADD 0.25       so much more; negative takes off
//	STANDIN:DOOR OPEN      or CLOSED: the last digits wander
//	STANDIN:DRAUGHT ON     or OFF: they wander more
//	STANDIN:DRIFT 6        creeps by so many last digits a minute
//	STANDIN:LINK OFF       or ON: the cable is out; measuring connections break
//	STANDIN:STATE?         all of it, as name=value pairs
type Balance struct {
	line
	capacity   float64 // g
	resolution float64 // g
	now        func() time.Time
	random     *rand.Rand

	pan     float64 // g on the pan
	from    float64 // g indicated when that changed
	changed time.Time
	zero    float64 // g
	open    bool
	draught bool
	drift   float64 // last digits per minute
	creeps  time.Time
}

// NewBalance returns a balance with an empty pan, doors closed. The same seed gives
// the same draughts.
func NewBalance(capacity, resolution float64, seed uint64) *Balance {
	b := &Balance{capacity: capacity, resolution: resolution, now: time.Now, random: rand.New(rand.NewPCG(seed, 1))}
	b.line = line{device: b, linked: true}
	b.changed = b.now().Add(-time.Hour)
	return b
}

// load changes what lies on the pan; the indication follows from where it is.
func (b *Balance) load(grams float64) {
	b.from = b.indicated() - b.creep()
	b.pan, b.changed = grams, b.now()
}

// indicated is what the balance would show without noise and zero, in g.
func (b *Balance) indicated() float64 {
	lag := math.Exp(-float64(b.now().Sub(b.changed)) / float64(settling))
	return b.pan + (b.from-b.pan)*lag + b.creep()
}

// creep is how far it has drifted since that was set, in g.
func (b *Balance) creep() float64 {
	if b.drift == 0 {
		return 0
	}
	return b.drift * b.resolution * b.now().Sub(b.creeps).Minutes()
}

func (b *Balance) noise() float64 {
	amplitude := 0.0
	if b.open {
		amplitude = openNoise
	}
	if b.draught {
		amplitude = draughtNoise
	}
	return amplitude * b.resolution * (2*b.random.Float64() - 1)
}

func (b *Balance) stable() bool {
	since := b.now().Sub(b.changed)
	rest := math.Abs(b.from-b.pan) * math.Exp(-float64(since)/float64(settling))
	return !b.open && !b.draught && since > settledAfter && rest < b.resolution/5
}

// round brings a mass to the last digit shown.
func (b *Balance) round(grams float64) float64 {
	return math.Round(grams/b.resolution) * b.resolution
}

// read answers READ?.
func (b *Balance) read() string {
	gross := b.indicated() + b.noise()
	switch {
	case gross > b.capacity:
		return "9.9E37,g,overload"
	case gross < -0.1*b.capacity:
		return "-9.9E37,g,underload"
	}
	state := "moving"
	if b.stable() {
		state = "stable"
	}
	decimals := max(0, int(math.Round(-math.Log10(b.resolution)+0.3)))
	net := b.round(gross - b.zero)
	if net == 0 {
		net = 0 // no negative zero
	}
	return fmt.Sprintf("%+.*f,g,%s", decimals, net, state)
}

// measure answers the measuring line.
func (b *Balance) measure(command, _ string) string {
	switch command {
	case "*IDN?":
		return BalanceModel + ",1,1"
	case "READ?":
		return b.read()
	case "TARE":
		if !b.stable() {
			return "ERROR it still moves: tare when it stands"
		}
		b.zero = b.round(b.indicated())
		return "OK"
	}
	return "ERROR unknown command"
}

func (b *Balance) hand(command, argument string) error {
	switch command {
	case "PAN", "ADD":
		grams, err := number(argument)
		if err != nil {
			return err
		}
		if command == "ADD" {
			grams += b.pan
		}
		b.load(grams)
	case "DOOR":
		if err := either(argument, &b.open, "OPEN", "CLOSED"); err != nil {
			return err
		}
		b.load(b.pan)
	case "DRAUGHT":
		if err := either(argument, &b.draught, "ON", "OFF"); err != nil {
			return err
		}
		b.load(b.pan)
	case "DRIFT":
		digits, err := number(argument)
		if err != nil {
			return err
		}
		b.pan, b.from = b.pan+b.creep(), b.from+b.creep() // what it has crept so far stays
		b.drift, b.creeps = digits, b.now()
	default:
		return fmt.Errorf("unknown command STANDIN:%s", command)
	}
	return nil
}

func (b *Balance) state() string {
	return fmt.Sprintf(
		"pan=%g;door=%s;draught=%s;drift=%g;link=%s",
		b.round(b.pan),
		word(b.open, "open", "closed"),
		word(b.draught, "on", "off"),
		b.drift,
		word(b.linked, "on", "off"),
	)
}
