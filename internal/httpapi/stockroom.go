package httpapi

import (
	"bytes"
	"context"
	"fmt"

	"vialbench/core/stock"
	"vialbench/internal/lab"
	"vialbench/internal/spreadsheet"
	"vialbench/internal/store"
)

// ListStore implements StrictServerInterface.
func (s *Server) ListStore(ctx context.Context, _ ListStoreRequestObject) (ListStoreResponseObject, error) {
	list, err := s.lab.Stockroom(ctx)
	return ListStore200JSONResponse(each(list, wireArticle)), err
}

// KeepArticle implements StrictServerInterface.
func (s *Server) KeepArticle(ctx context.Context, r KeepArticleRequestObject) (KeepArticleResponseObject, error) {
	return KeepArticle204Response{}, s.lab.KeepArticle(ctx, actor(ctx), r.Id, r.Body.Article, r.Body.Version)
}

// RemoveArticle implements StrictServerInterface.
func (s *Server) RemoveArticle(ctx context.Context, r RemoveArticleRequestObject) (RemoveArticleResponseObject, error) {
	return RemoveArticle204Response{}, s.lab.RemoveArticle(ctx, actor(ctx), r.Id, r.Params.Version)
}

// KeepContainer implements StrictServerInterface.
func (s *Server) KeepContainer(ctx context.Context, r KeepContainerRequestObject) (KeepContainerResponseObject, error) {
	return KeepContainer204Response{}, s.lab.KeepContainer(ctx, actor(ctx), r.Id, lab.ContainerChange{
		Article: r.Body.Article, Place: given(r.Body.Place), Opened: given(r.Body.Opened), Expires: given(r.Body.Expires),
		Amount: given(r.Body.Amount), Version: r.Body.Version,
	})
}

// ListContainerEntries implements StrictServerInterface.
func (s *Server) ListContainerEntries(
	ctx context.Context, r ListContainerEntriesRequestObject,
) (ListContainerEntriesResponseObject, error) {
	list, err := s.lab.ContainerEntries(ctx, r.Id)
	return ListContainerEntries200JSONResponse(each(list, func(e store.StockEntry) StockEntry {
		return StockEntry{Id: e.ID, Run: e.RunID, Amount: e.Amount, Note: e.Note, By: e.Maker.Initials, At: e.MadeAt}
	})), err
}

// CountContainer implements StrictServerInterface.
func (s *Server) CountContainer(ctx context.Context, r CountContainerRequestObject) (CountContainerResponseObject, error) {
	return CountContainer204Response{}, s.lab.CountContainer(ctx, actor(ctx), r.Id, r.Body.Id, r.Body.Amount, given(r.Body.Note))
}

// ExportOrders implements StrictServerInterface.
func (s *Server) ExportOrders(ctx context.Context, _ ExportOrdersRequestObject) (ExportOrdersResponseObject, error) {
	list, err := s.lab.Orders(ctx)
	if err != nil {
		return nil, err
	}
	rows := [][]string{{"order", "of", "by", "too late", "usable", "minimum", "planned", "an order takes, days", "why"}}
	for _, a := range list {
		late, why := "", ""
		if a.Standing.Late {
			late = "yes"
		}
		for _, v := range a.Standing.Verdicts {
			if why != "" {
				why += " "
			}
			why += v.Sentence
		}
		rows = append(rows, []string{
			a.Unit.Say(a.Standing.Order), a.Name, a.Standing.OrderBy, late, a.Unit.Say(a.Standing.Usable), a.Unit.Say(a.Minimum),
			a.Unit.Say(a.Standing.Planned), fmt.Sprint(a.LeadDays), why,
		})
	}
	var out bytes.Buffer
	if err := spreadsheet.Write(&out, rows); err != nil {
		return nil, err
	}
	download(ctx, "vialbench-orders.csv")
	return ExportOrders200TextcsvResponse{Body: &out, ContentLength: int64(out.Len())}, nil
}

func wireArticle(a lab.ArticleView) Article {
	return Article{
		Id: a.ID, Article: a.Article.Article, Version: a.Version, Standing: a.Standing, Usable: a.Unit.Say(a.Standing.Usable),
		Minimum: a.Unit.Say(a.Minimum), Order: optional(saidOrder(a.Unit, a.Standing)),
		Containers: each(a.Containers, func(c lab.ContainerView) StockContainer {
			return StockContainer{
				Id: c.ID, Number: int(c.Number), Left: c.Left, Text: a.Unit.Say(c.Left), Place: c.Place, Opened: c.Opened, Expires: c.Expires,
				Version: c.Version, By: c.Creator.Initials, Came: c.CreatedAt,
			}
		}),
	}
}

// wireOrder is what Today says of an article.
func wireOrder(a lab.ArticleView) StoreOrder {
	return StoreOrder{Name: a.Name, Order: a.Unit.Say(a.Standing.Order), By: a.Standing.OrderBy, Late: a.Standing.Late}
}

// saidOrder says how much has to be ordered; nothing where nothing has.
func saidOrder(unit stock.Unit, s stock.Standing) string {
	if s.OrderBy == "" {
		return ""
	}
	return unit.Say(s.Order)
}
