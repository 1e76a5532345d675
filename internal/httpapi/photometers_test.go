package httpapi_test

import (
	"math"
	"net"
	"strings"
	"testing"

	"github.com/google/uuid"

	"vialbench/internal/standin"
	"vialbench/internal/store/storetest"
)

// A photometer from its entry in the setup to a line and a spectrum that were read with it; every answer fits the contract.
func TestPhotometersOverHTTP(t *testing.T) {
	base := newServer(t, storetest.Open(t))
	ra, _ := begin(t, base)
	usual := ra.must(200, "GET", "/photometers/usual", nil)
	delete(usual, "text")
	if status, problem := ra.do("POST", "/photometers", usual); status != 422 || pointers(problem) != "/name" {
		t.Errorf("without a name: %d at %s", status, pointers(problem))
	}
	usual["name"] = " Dunlin "
	made := ra.must(201, "POST", "/photometers", usual)
	id := made["id"].(string)
	at := "/photometers/" + id
	usual["name"] = "dunlin"
	if status, problem := ra.do("POST", "/photometers", usual); status != 422 || pointers(problem) != "/name" {
		t.Errorf("twice: %d at %s", status, pointers(problem))
	}
	if list := ra.must(200, "GET", "/photometers", nil)["list"].([]any); len(list) != 1 || list[0].(object)["photometer"].(object)["name"] != "Dunlin" {
		t.Errorf("%v", list)
	}
	if status, problem := ra.do("POST", at+"/wavelength", object{"nm": 526}); status != 409 || !strings.Contains(problem["detail"].(string), "is not connected") {
		t.Errorf("without a cable: %d %v", status, problem)
	}
	listener, err := (&net.ListenConfig{}).Listen(t.Context(), "tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	go standin.Serve(t.Context(), listener, standin.NewPhotometer(0, 0, 3))
	if status, problem := ra.do("PUT", at+"/address", object{"address": "example.org:80"}); status != 422 || pointers(problem) != "/address" {
		t.Errorf("an address elsewhere: %d at %s", status, pointers(problem))
	}
	ra.must(204, "PUT", at+"/address", object{"address": listener.Addr().String()})

	hand := func(body object) object { t.Helper(); return ra.must(200, "POST", at+"/standin", body) }
	if s := hand(object{"into": "water"}); s["in"] != "water" || s["link"] != "on" || len(s["coloured"].([]any)) != 11 {
		t.Errorf("%v", s)
	}
	ra.must(422, "POST", at+"/standin", object{"bubble": "ON", "fingerprint": "ON"})
	ra.must(204, "POST", at+"/wavelength", object{"nm": 526})
	if status, problem := ra.do("POST", at+"/wavelength", object{"nm": 300}); status != 422 || pointers(problem) != "/nm" {
		t.Errorf("beyond its lamp: %d at %s", status, pointers(problem))
	}
	ra.must(204, "POST", at+"/zero", object{"everywhere": true})
	if s := hand(object{"into": "permanganate 2e-4"}); s["in"] != "Permanganate" || s["molar"] != 2e-4 || s["nm"] != 526.0 {
		t.Errorf("%v", s)
	}
	if s := hand(object{"bubble": "ON"}); s["bubble"] != "on" || hand(object{"bubble": "OFF"})["bubble"] != "off" {
		t.Errorf("%v", s)
	}

	// 2400 L/(mol·cm) at the top, half of that half a width away (the band of the substance).
	spectrum := ra.must(200, "POST", at+"/scan", object{"from": 491, "to": 561, "step": 5})
	x, y := spectrum["x"].([]any), spectrum["y"].([]any)
	if len(x) != 15 || len(y) != 15 || x[0] != 491.0 || x[14] != 561.0 {
		t.Fatalf("%v %v", x, y)
	}
	for i, want := range map[int]float64{0: 0.24, 7: 0.48, 14: 0.24} {
		if got := y[i].(float64); math.Abs(got-want) > 0.005 {
			t.Errorf("%g AU at %v nm, want %g", got, x[i], want)
		}
	}
	for field, body := range map[string]object{
		"/to":   {"from": 500, "to": 500, "step": 1},
		"/from": {"from": 200, "to": 500, "step": 1},
		"/step": {"from": 400, "to": 700, "step": 0.01},
	} {
		if status, problem := ra.do("POST", at+"/scan", body); status != 422 || pointers(problem) != field {
			t.Errorf("%v: %d at %s", body, status, pointers(problem))
		}
	}

	// A line that is read with it says where the reading comes from, and refuses one at another wavelength.
	asks := func(instrument string) object {
		return object{"id": uuid.NewString(), "kind": "absorbance", "question": object{
			"substance": "Permanganate", "typed": []string{"0", "1", "2", "3", "4"}, "unit": "mg/L", "unknowns": []object{{"name": "pond"}},
			"wavelength": "526", "path": "10", "cells": 1, "replicates": 1, "photometer": instrument,
		}}
	}
	for _, wrong := range []string{"Dunlin", uuid.NewString()} {
		if status, problem := ra.do("POST", "/plans", asks(wrong)); status != 422 && status != 404 {
			t.Errorf("%s: %d %v", wrong, status, problem)
		}
	}
	plan := ra.must(201, "POST", "/plans", asks(id))
	run := ra.must(201, "POST", "/runs", object{"id": uuid.NewString(), "planId": plan["id"]})["summary"].(object)["id"].(string)
	state := func(beside string) (int, object) {
		return ra.do("POST", "/runs/"+run+"/facts", object{
			"id": uuid.NewString(), "kind": "blank-set", "quantity": object{"text": "0.000 AU"}, "beside": []object{{"text": beside}}, "instrument": "Dunlin",
		})
	}
	if status, problem := state("620 nm"); status != 422 || pointers(problem) != "/beside/0" {
		t.Errorf("read elsewhere: %d at %s", status, pointers(problem))
	}
	if status, now := state("526 nm"); status != 200 || !strings.Contains(now["outcome"].(object)["steps"].([]any)[0].(object)["summary"].(string), "526 nm, read from Dunlin") {
		t.Errorf("%d %v", status, now)
	}
	if of := ra.must(200, "GET", "/instruments/dependents?name=Dunlin", nil)["list"].([]any); len(of) != 1 {
		t.Errorf("%d runs depend on it", len(of))
	}
	spectral := object{"id": uuid.NewString(), "kind": "scan", "question": object{
		"name": "Permanganate", "x": x, "y": y, "from": "read by Dunlin", "photometer": id,
	}}
	request := ra.must(201, "POST", "/plans", spectral)["design"].(object)["request"].(object)
	if request["photometer"].(object)["name"] != "Dunlin" {
		t.Errorf("%v", request)
	}
	hand(object{"link": "OFF"})
	if status, problem := ra.do("POST", at+"/zero", object{}); status != 409 || !strings.Contains(problem["detail"].(string), "Dunlin does not answer") {
		t.Errorf("the cable is out: %d %v", status, problem)
	}
}
