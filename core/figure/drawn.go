package figure

import (
	"fmt"
	"math"
	"strconv"
)

// Drawn are values that a drawing goes through. In JSON they have five digits, which no screen shows all of; what is
// computed from them has all that there are.
type Drawn []float64

const drawnDigits = 5

// MarshalJSON implements [encoding/json.Marshaler]. A value that is not a number is an error, as in a plain list.
func (d Drawn) MarshalJSON() ([]byte, error) {
	if d == nil {
		return []byte("null"), nil
	}
	text := append(make([]byte, 0, 8*len(d)+2), '[')
	for i, x := range d {
		if math.IsNaN(x) || math.IsInf(x, 0) {
			return nil, fmt.Errorf("a drawing cannot go through %g", x)
		}
		if i > 0 {
			text = append(text, ',')
		}
		text = strconv.AppendFloat(text, x, 'g', drawnDigits, 64)
	}
	return append(text, ']'), nil
}
