package lab

import (
	"context"
	"slices"

	"vialbench/core/reaction"
	"vialbench/core/run"
	"vialbench/core/titration"
	"vialbench/internal/store"
)

// TitrationView is a titration of the library with the bottles that would serve.
type TitrationView struct {
	titration.Reaction
	LaTeX string
	Ratio reaction.Ratio
	// Titrants and Samples are the IDs of bottles on the shelf, Solids the keys of substances.
	Titrants, Samples, Solids []string
}

// Titrations lists the titrations of the library, each with what is in the lab for it.
func (l *Lab) Titrations(ctx context.Context) ([]TitrationView, error) {
	return l.titrations.get(ctx, l, []string{"shelf", "bottle", "setup"}, func(ctx context.Context) ([]TitrationView, error) {
		return lookTitrations(l.store.With(ctx))
	})
}

func lookTitrations(db *store.Store) ([]TitrationView, error) {
	bottles, err := db.Bottles(store.ShelfFilter{}, fromStart, atATime)
	if err != nil {
		return nil, err
	}
	solids, err := substances(db)
	if err != nil {
		return nil, err
	}
	list := make([]TitrationView, 0, len(titration.Library()))
	for _, r := range titration.Library() {
		v := TitrationView{Reaction: r, Titrants: []string{}, Samples: []string{}, Solids: []string{}}
		e, err := r.Balanced()
		if err != nil {
			return nil, err
		}
		v.LaTeX = e.LaTeX()
		if v.Ratio, err = r.Ratio(); err != nil {
			return nil, err
		}
		list = append(list, v)
	}
	uses := map[string][]titration.Use{} // many bottles hold the same
	usesOf := func(compound string) []titration.Use {
		known, ok := uses[compound]
		if !ok {
			known = titration.Uses(compound)
			uses[compound] = known
		}
		return known
	}
	for _, b := range bottles {
		if _, ok := b.Product.Molar(); !ok || b.State != onShelf {
			continue
		}
		for i, use := range usesOf(b.Product.Solute()) {
			if use.Titrant > 0 {
				list[i].Titrants = append(list[i].Titrants, b.ID)
			}
			if use.Analyte > 0 {
				list[i].Samples = append(list[i].Samples, b.ID)
			}
		}
	}
	for _, s := range solids {
		if s.Liquid || s.Mixture != "" {
			continue
		}
		for i, use := range usesOf(s.Formula) {
			if use.Analyte > 0 {
				list[i].Solids = append(list[i].Solids, s.Key)
			}
		}
	}
	return list, nil
}

// standardised puts the newest standardisation of a bottle into its product; without one the
// product is as it was made.
func (c *computing) standardised(b *store.Bottle, p run.Product) (run.Product, error) {
	past, err := standardisationsOf(c.tx, b.ID)
	if err != nil || len(past) == 0 {
		return p, err
	}
	newest := past[0]
	return p.Standardise(newest.C, run.Standardised{Run: newest.Run.ID, Number: newest.Run.Number, At: newest.At}, b.MadeAt), nil
}

// PastStandardisation is one of a bottle.
type PastStandardisation struct {
	run.Standardisation
	Run store.Run
}

// standardisationsOf lists the finished standardisations of a bottle, newest first.
func standardisationsOf(db *store.Store, bottle string) ([]PastStandardisation, error) {
	runs, err := db.RunsStandardising(bottle)
	if err != nil {
		return nil, err
	}
	var list []PastStandardisation
	for _, r := range runs {
		out, err := outcomeOf(db, r.ID)
		if err != nil {
			return nil, err
		}
		for _, p := range out.Products {
			if is, ok := p.Detail.(run.Standardisation); ok {
				list = append(list, PastStandardisation{is, r})
			}
		}
	}
	slices.SortStableFunc(list, func(a, b PastStandardisation) int { return b.At.Compare(a.At) })
	return list, nil
}
