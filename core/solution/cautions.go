package solution

import "slices"

// LocalRules is the sentence that stands beside every caution.
const LocalRules = "Your local rules, the safety data sheet and licensed waste handling come first."

// firstCautions are those of all work.
func firstCautions() []string { return append(make([]string, 0, 4), "Goggles, gloves and coat on.") }

// cautions gives the usual cautions for the substance, first those of all work,
// last the local rules.
func (c *context) cautions() []string {
	hazards := c.Substance.Hazards
	list := firstCautions()
	for _, o := range c.others {
		hazards = append(slices.Clip(hazards), o.Substance.Hazards...)
	}
	any := func(codes ...string) bool {
		return slices.ContainsFunc(hazards, func(h string) bool { return slices.Contains(codes, h) })
	}
	if c.Substance.Liquid {
		if any("H225", "H226", "H290", "H314", "H330", "H331", "H332", "H335", "H336", "H400") {
			list = append(list, "In the fume hood, from opening the bottle to the diluted solution.")
		}
		if any("H290", "H314") {
			list = append(list, "Into water, slowly, never the reverse: water poured onto the concentrated liquid boils and spits.")
		}
		list = append(list, "Never pipette by mouth.")
	}
	if any("H330", "H331", "H332", "H334", "H335", "H336", "H350i") {
		list = append(list, "Dust and vapour harm when breathed in: work in the fume hood or with the draught shield closed, raise no dust.")
	}
	if any("H311", "H312", "H317") {
		list = append(list, "Harms through the skin: gloves that hold against it, wash at once what has come onto the skin.")
	}
	if any("H314", "H318") {
		list = append(list, "Burns eyes and skin: rinse at once with much water. It may grow hot in water.")
	}
	if any("H300", "H301", "H302") {
		list = append(list, "Harmful if swallowed: wash hands after weighing.")
	}
	if any("H340", "H341", "H350", "H350i", "H360F", "H360FD", "H351", "H360D", "H360Df", "H361d") {
		list = append(
			list,
			"May cause cancer, or damage fertility or the unborn child: ask for a substitute. Anyone who is or may be pregnant does not handle it.",
		)
	}
	if any("H225", "H226", "H228") {
		list = append(list, "Flammable: no flame, no hot plate near it.")
	}
	if any("H271", "H272") {
		list = append(list, "Oxidiser: keep paper, cloth and organic solids away; no wiping up with a paper towel.")
	}
	if any("H400", "H410", "H411", "H412") {
		list = append(list, "Harms aquatic life: collect residues, nothing down the sink.")
	}
	return append(list, LocalRules)
}
