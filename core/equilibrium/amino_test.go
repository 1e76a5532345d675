package equilibrium

import (
	"math"
	"testing"
)

// The constants of amino acids as biochemistry texts list them (Lehninger, from memory), at some
// ionic strength: those at none lie up to half a unit away, an exchanged or mistyped one farther.
func TestAminoAcidsOfTexts(t *testing.T) {
	for key, want := range map[string][]float64{
		"glycine": {2.34, 9.60}, "alanine": {2.34, 9.69}, "valine": {2.32, 9.62}, "leucine": {2.36, 9.60}, "serine": {2.21, 9.15},
		"threonine": {2.11, 9.62}, "proline": {1.99, 10.96}, "phenylalanine": {1.83, 9.13}, "aspartic": {1.88, 3.65, 9.60},
		"glutamic": {2.19, 4.25, 9.67}, "histidine": {1.82, 6.00, 9.17}, "lysine": {2.18, 8.95, 10.53}, "cysteine": {1.96, 8.18, 10.28},
		"tyrosine": {2.20, 9.11, 10.07},
	} {
		s, ok := Find(key)
		if !ok || len(s.Constants) != len(want) {
			t.Errorf("%s: %+v", key, s.Constants)
			continue
		}
		for i, c := range s.Constants {
			if math.Abs(c.PKa-want[i]) > 0.55 {
				t.Errorf("%s, pKa %d: %.2f, texts have %.2f", key, i+1, c.PKa, want[i])
			}
		}
	}
}
