package httpapi_test

import (
	"encoding/csv"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
)

// The list of what to order is read with a reader that is not ours, field by field.
func TestOrdersAsATable(t *testing.T) {
	ra := demoLab(t)
	status, table := ra.do("GET", "/store/orders.csv", nil)
	if status != 200 {
		t.Fatal(status, table)
	}
	rows, err := csv.NewReader(strings.NewReader(strings.TrimPrefix(table["text"].(string), "\ufeff"))).ReadAll()
	if err != nil {
		t.Fatal(err)
	}
	// Today the sachets, of which 8 of 10 are there; in two days sodium hydroxide: the session takes 1 mol/L × 0.25 L ×
	// 39.997 g/mol / 0.97 = 10.31 g of 45 g.
	today, day := time.Now().UTC().Format(time.DateOnly), time.Now().AddDate(0, 0, 2)
	want := [][]string{
		{"order", "of", "by", "too late", "usable", "minimum", "planned", "an order takes, days", "why"},
		{"2 pieces", "Buffer sachets, pH 7.00", today, "", "8 pieces", "10 pieces", "0 pieces", "4", "8 pieces left, below the minimum of 10 pieces."},
		{
			"5.31 g", "Sodium hydroxide", day.Format(time.DateOnly), "", "45 g", "40 g", "10.31 g", "5",
			"After “Hardness of pond water” on " + day.Format("2 Jan") + " 34.69 g are left, below the minimum of 40 g.",
		},
	}
	for i := range want {
		if i >= len(rows) || strings.Join(rows[i], "|") != strings.Join(want[i], "|") {
			t.Errorf("%q, want row %d %q", rows, i, want[i])
			break
		}
	}
	if orders := ra.must(200, "GET", "/today", nil)["orders"].([]any); len(orders) != 2 || orders[1].(object)["order"] != "5.31 g" {
		t.Errorf("today says %v", orders)
	}
}

func TestTheStoreByHand(t *testing.T) {
	ra := demoLab(t)
	article, container := uuid.NewString(), uuid.NewString()
	salt := object{"name": "Sodium chloride", "key": "sodium-chloride", "unit": "g", "minimum": 20, "leadDays": 3}
	ra.must(204, "PUT", "/store/articles/"+article, object{"article": salt, "version": 0})
	ra.must(204, "PUT", "/store/containers/"+container, object{
		"article": article, "amount": "0.5 kg", "place": "cupboard 1", "opened": "2026-11-30", "expires": "2031-06-30", "version": 0,
	})
	ra.must(204, "POST", "/store/containers/"+container+"/entries", object{"id": uuid.NewString(), "amount": "480 g", "note": "weighed"})
	find := func() (found object) {
		_, list := ra.do("GET", "/store", nil)
		for _, a := range list["list"].([]any) {
			if a.(object)["id"] == article {
				found = a.(object)
			}
		}
		return found
	}
	got := find()["containers"].([]any)[0].(object)
	for field, want := range map[string]any{
		"left": 480.0, "text": "480 g", "place": "cupboard 1", "opened": "2026-11-30", "expires": "2031-06-30", "version": 1.0, "by": "RA",
	} {
		if got[field] != want {
			t.Errorf("%s is %v, want %v", field, got[field], want)
		}
	}
	_, entries := ra.do("GET", "/store/containers/"+container+"/entries", nil)
	if list := entries["list"].([]any); len(list) != 2 || list[0].(object)["amount"] != 480.0 || list[0].(object)["note"] != "weighed" || list[1].(object)["amount"] != 500.0 {
		t.Errorf("%v", list)
	}
	for pointer, try := range map[string]func() object{
		"/amount": func() object {
			return ra.must(422, "POST", "/store/containers/"+container+"/entries", object{"id": uuid.NewString(), "amount": "a spoon"})
		},
		"/expires": func() object {
			return ra.must(422, "PUT", "/store/containers/"+container, object{"article": article, "expires": "soon", "version": 1})
		},
	} {
		if problem := try(); problem["errors"].([]any)[0].(object)["pointer"] != pointer {
			t.Errorf("%s: %v", pointer, problem)
		}
	}
	ra.must(404, "POST", "/store/containers/"+uuid.NewString()+"/entries", object{"id": uuid.NewString(), "amount": "1"})
	ra.must(204, "DELETE", "/store/articles/"+article+"?version=1", nil)
	if left := find(); left != nil {
		t.Errorf("%v", left)
	}
}
