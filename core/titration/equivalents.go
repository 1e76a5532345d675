package titration

// Equivalents is how many equivalents a mole of the titrant and of the analyte are in this
// titration, and why; ok is false where none are counted, as with EDTA. Equivalents of one side go
// with as many of the other, so those of the analyte follow from the ratio: of iron(II) 1, of
// oxalate 2, of carbonate 1 to its first end point and 2 to its second. The number belongs to the
// reaction, not to the substance. (Common practice; Vogel, from memory.)
func (r Reaction) Equivalents() (titrant, analyte float64, why string, ok bool) {
	e, ok := exchanged[r.Titrant]
	if !ok {
		return 0, 0, "", false
	}
	ratio, err := r.Ratio()
	if err != nil {
		return 0, 0, "", false
	}
	return e.count, e.count / ratio.Value(), "each " + r.Titrant + " " + e.why, true
}

// exchanged is what a titrant of the library exchanges.
var exchanged = map[string]struct {
	count float64
	why   string
}{
	"NaOH":     {1, "takes one proton"},
	"HCl":      {1, "gives one proton"},
	"MnO4-":    {5, "takes five electrons, in acid"},
	"Cr2O7^2-": {6, "takes six electrons"},
	"Ce^4+":    {1, "takes one electron"},
	"I2":       {2, "takes two electrons"},
	"S2O3^2-":  {1, "gives one electron"},
	"Ag+":      {1, "binds one charge"},
	"SCN-":     {1, "binds one charge"},
}
