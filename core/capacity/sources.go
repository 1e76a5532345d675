package capacity

import (
	"reflect"

	"vialbench/core/calibration"
	"vialbench/core/droptip"
	"vialbench/core/equilibrium"
	"vialbench/core/run"
)

// The bottles that a test takes from.
const (
	RoleBuffer = "buffer"
	RoleAcid   = "acid"
	RoleBase   = "base"
)

// Uses implements [run.Plan].
func (r Request) Uses() run.Uses {
	var uses run.Uses
	if r.Bottle != "" {
		buffer := run.Source{Role: RoleBuffer, Bottle: r.Bottle}
		for _, b := range r.beakers() {
			if !b.Water {
				buffer.Needs += r.Volume
			}
		}
		uses.Sources = []run.Source{buffer}
	}
	for _, x := range []struct {
		role string
		from *Titrant
	}{{RoleAcid, r.AcidFrom}, {RoleBase, r.BaseFrom}} {
		if x.from != nil {
			uses.Sources = append(uses.Sources, run.Source{Role: x.role, Bottle: x.from.Bottle, Needs: r.toOne(x.from)})
		}
	}
	r.Probe.Uses(&uses)
	r.Tip.Uses(&uses)
	return uses
}

// toOne is about what moves the buffer by one pH, in mL, where acid or base comes from a bottle.
func (r Request) toOne(from *Titrant) float64 {
	for _, b := range r.beakers() {
		if b.from == from && !b.Water {
			return r.vessel(b).portion(1, r.Volume)
		}
	}
	return 0
}

// From implements [run.Sourced]: the buffer is what its bottle holds, the calibration what
// its run gives now.
func (r Request) From(role string, source run.Product) (run.Plan, bool) {
	was := r
	switch role {
	case calibration.RoleProbe:
		probe, changed := r.Probe.From(source)
		r.Probe = probe
		return r, changed
	case droptip.RoleTip:
		tip, changed := r.Tip.From(source)
		r.Tip, r.Portion = tip, float64(r.Drops)*tip.Volume.Value
		return r, changed
	case RoleAcid:
		t, changed := r.AcidFrom.follow(source)
		r.AcidFrom = t
		return r, changed
	case RoleBase:
		t, changed := r.BaseFrom.follow(source)
		r.BaseFrom = t
		return r, changed
	case RoleBuffer:
		own := make([]equilibrium.System, len(r.Mixture.Amounts))
		for i, amount := range r.Mixture.Amounts {
			own[i] = amount.System
		}
		m, ok := MixtureOf(source, own...)
		if !ok {
			return r, false
		}
		r.Mixture = m
		return r, !reflect.DeepEqual(was.Mixture.Amounts, m.Amounts) || !reflect.DeepEqual(was.Mixture.Strong, m.Strong)
	}
	return r, false
}

// Bound implements [run.Sourced].
func (r Request) Bound(role string, source run.Source, number int64) run.Plan {
	switch role {
	case RoleBuffer:
		r.Bottle, r.Number = source.Bottle, number
	case RoleAcid:
		r.AcidFrom = r.AcidFrom.bound(source, number)
	case RoleBase:
		r.BaseFrom = r.BaseFrom.bound(source, number)
	case calibration.RoleProbe:
		r.Probe = r.Probe.Bound(source, number)
	case droptip.RoleTip:
		r.Tip = r.Tip.Bound(source, number)
	}
	return r
}
