package glassware

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"vialbench/core/quantity"
)

// Cupboard is the flasks at hand. An empty one stands for every size of ISO 1042,
// for a lab that has not listed its glass.
type Cupboard []Flask

// MaxBatches is how many fillings a volume is split into at most.
const MaxBatches = 12

// of lists the flasks of a class by rising volume. Of two of one volume, the one
// with a certificate comes first, since it is known better.
func (c Cupboard) of(class Class) []Flask {
	list := make([]Flask, 0, max(len(c), len(sizes)))
	for _, f := range c {
		if f.Class == class {
			list = append(list, f)
		}
	}
	if len(c) == 0 {
		for _, s := range sizes {
			list = append(list, Flask{Volume: s.volume, Class: class})
		}
		return list
	}
	slices.SortStableFunc(list, func(a, b Flask) int {
		return cmp.Or(cmp.Compare(a.Volume, b.Volume), cmp.Compare(b.Certified, a.Certified))
	})
	return slices.CompactFunc(list, func(a, b Flask) bool { return a.Volume == b.Volume })
}

// Volumes lists the nominal volumes of the flasks of a class in mL, rising.
func (c Cupboard) Volumes(class Class) []float64 {
	list := c.of(class)
	volumes := make([]float64, len(list))
	for i, f := range list {
		volumes[i] = f.Volume
	}
	return volumes
}

// For returns the smallest flask of a class that holds a volume in mL, and whether
// it is of exactly that volume. An error says what there is instead.
func (c Cupboard) For(volume float64, class Class) (f Flask, exact bool, err error) {
	if class != ClassA && class != ClassB {
		return Flask{}, false, fmt.Errorf("a flask is of class A or class B, not “%s”", class)
	}
	list := c.of(class)
	if len(list) == 0 {
		return Flask{}, false, fmt.Errorf("the lab owns no flask of class %s: take the other class, or add the flask in the lab setup", class)
	}
	largest := list[len(list)-1].Volume
	if !(volume > 0) || volume > largest*(1+1e-9) {
		return Flask{}, false, fmt.Errorf("no flask of %s mL: the largest is %g mL; make it in batches", quantity.Digits(volume, -1), largest)
	}
	i := slices.IndexFunc(list, func(f Flask) bool { return f.Volume >= volume*(1-1e-9) })
	return list[i], math.Abs(list[i].Volume-volume) <= 1e-9*volume, nil
}

// Larger returns the next larger flask of the same class; ok is false for the largest.
func (c Cupboard) Larger(than Flask) (larger Flask, ok bool) {
	for _, f := range c.of(than.Class) {
		if f.Volume > than.Volume {
			return f, true
		}
	}
	return than, false
}

// Split returns the flasks to fill one after the other so that a volume in mL is
// made: exactly that volume when up to four more fillings than the fewest can do
// it, and otherwise the fewest fillings with the least too much. Largest first. An
// error reports whether it would take more than MaxBatches.
func (c Cupboard) Split(volume float64, class Class) ([]Flask, error) {
	if _, _, err := c.For(math.SmallestNonzeroFloat64, class); err != nil {
		return nil, err
	}
	list := c.of(class)
	slices.Reverse(list)
	fewest := int(math.Ceil(volume/list[0].Volume - 1e-9))
	if !(volume > 0) || fewest > MaxBatches {
		return nil, fmt.Errorf(
			"%s mL would take %d fillings of %g mL: at most %d are planned at once",
			quantity.Digits(volume, -1),
			fewest,
			list[0].Volume,
			MaxBatches,
		)
	}
	var whole []Flask
	for rest := volume; rest > 4*list[0].Volume; rest -= list[0].Volume { // only the last few need a choice
		whole = append(whole, list[0])
	}
	rest := volume - float64(len(whole))*list[0].Volume
	var best []Flask
	surplus := math.Inf(1)
	for n := fewest - len(whole); n <= min(fewest+4, MaxBatches)-len(whole) && surplus > 1e-9*volume; n++ {
		if found, over := fill(list, n, rest, 1e-9*volume); over < surplus && (best == nil || over <= 1e-9*volume) {
			best, surplus = found, over
		}
	}
	return append(whole, best...), nil
}

// fill finds n flasks, largest first, that hold a volume with the least too much.
func fill(list []Flask, n int, volume, near float64) (best []Flask, over float64) {
	s := filling{list: list, near: near, over: math.Inf(1)}
	s.try(0, n, volume)
	return s.best, s.over
}

// filling is the search of [fill]: what was chosen so far, and the best so far with how much it is too much.
type filling struct {
	list         []Flask
	near         float64
	chosen, best []Flask
	over         float64
}

// try chooses n more flasks, none larger than the one at from, for a volume that is left.
func (s *filling) try(from, n int, volume float64) {
	if n == 0 {
		if over := max(0, -volume); volume <= s.near && over < s.over {
			s.best, s.over = append(s.best[:0], s.chosen...), over
		}
		return
	}
	smallest := s.list[len(s.list)-1].Volume
	for i := from; i < len(s.list) && s.over > s.near; i++ {
		f := s.list[i]
		if f.Volume*float64(n) < volume-s.near { // too small from here on
			return
		}
		if f.Volume+float64(n-1)*smallest-volume >= s.over { // more too much than the best, whatever follows
			continue
		}
		s.chosen = append(s.chosen, f)
		s.try(i, n-1, volume-f.Volume)
		s.chosen = s.chosen[:len(s.chosen)-1]
	}
}
