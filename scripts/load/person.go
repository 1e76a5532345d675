package main

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"
)

// person has one page open.
type person struct {
	client *http.Client
	base   string
	waits  *waits
	plan   string
	run    string
	stated int // in it
	today  bool
	// question is what is asked while typing.
	question any
}

// factsOfARun is how many facts a run has before the next one is begun.
const factsOfARun = 20

// begin begins another run of the plan.
func (p *person) begin(ctx context.Context) error {
	p.run, p.stated = uuid.NewString(), 0
	return p.ask(ctx, http.MethodPost, "/runs", map[string]any{"id": p.run, "planId": p.plan}, nil)
}

func (p *person) must(method, path string, body, answer any) error {
	return p.ask(context.Background(), method, path, body, answer)
}

func (p *person) ask(ctx context.Context, method, path string, body, answer any) error {
	var text io.Reader = http.NoBody
	if body != nil {
		b, err := json.Marshal(body)
		if err != nil {
			return err
		}
		text = bytes.NewReader(b)
	}
	r, err := http.NewRequestWithContext(ctx, method, p.base+"/api/v1"+path, text)
	if err != nil {
		return err
	}
	r.Header.Set("Content-Type", "application/json")
	got, err := p.client.Do(r)
	if err != nil {
		return err
	}
	defer got.Body.Close() //nolint:errcheck // it was read to its end
	b, err := io.ReadAll(got.Body)
	if err != nil {
		return err
	}
	if got.StatusCode >= http.StatusBadRequest {
		return fmt.Errorf("%s %s: %d %s", method, path, got.StatusCode, b)
	}
	if answer == nil {
		return nil
	}
	return json.Unmarshal(b, answer)
}

// timed asks, and notes how long it took.
func (p *person) timed(ctx context.Context, what, method, path string, body any) {
	begun := time.Now()
	err := p.ask(ctx, method, path, body, nil)
	if ctx.Err() == nil {
		p.waits.add(what, time.Since(begun), err)
	}
}

// listen reloads what the pages reload.
func (p *person) listen(ctx context.Context) {
	topics := *strip + ",run " + p.run
	if p.today {
		topics = *strip + ",run"
	}
	r, err := http.NewRequestWithContext(ctx, http.MethodGet, p.base+"/api/v1/events?topics="+url.QueryEscape(topics), http.NoBody)
	if err != nil {
		return
	}
	got, err := p.client.Do(r)
	if err != nil {
		return
	}
	defer got.Body.Close() //nolint:errcheck // its end is the end of the time
	var looked time.Time
	lines := bufio.NewScanner(got.Body)
	for lines.Scan() {
		topic, ok := strings.CutPrefix(lines.Text(), "data:")
		if !ok {
			continue
		}
		if slices.ContainsFunc(strings.Split(*strip, ","), func(t string) bool { return strings.HasPrefix(topic, t) }) {
			p.timed(ctx, "bench", http.MethodGet, "/bench", nil)
		}
		if p.today && strings.HasPrefix(topic, "run ") && time.Since(looked) > *apart {
			looked = time.Now()
			p.timed(ctx, "today", http.MethodGet, "/today", nil)
		}
	}
}

// work types, and states a note now and then.
func (p *person) work(ctx context.Context) {
	facts, computes := time.NewTimer(rand.N(betweenFacts)), time.NewTimer(rand.N(betweenComputes))
	for {
		select {
		case <-ctx.Done():
			return
		case <-facts.C:
			facts.Reset(betweenFacts/2 + rand.N(betweenFacts))
			note := map[string]any{"id": uuid.NewString(), "kind": "note", "text": "stirring"}
			p.timed(ctx, "fact", http.MethodPost, "/runs/"+p.run+"/facts", note)
			if p.stated++; *soak && p.stated == factsOfARun && p.begin(ctx) != nil {
				return
			}
		case <-computes.C:
			computes.Reset(betweenComputes/2 + rand.N(betweenComputes))
			p.timed(ctx, "compute", http.MethodPost, "/compute/standard", p.question)
		}
	}
}

func signIn(base string) (*person, error) {
	jar, err := cookiejar.New(nil)
	if err != nil {
		return nil, err
	}
	transport := &http.Transport{MaxIdleConnsPerHost: 1000, DisableCompression: true}
	p := &person{client: &http.Client{Jar: jar, Transport: transport}, base: base}
	return p, p.must(http.MethodPost, "/session", map[string]any{"login": "ashdown", "password": "pond-water-week"}, nil)
}

// planOf is a standard of the sample records.
func planOf(p *person) (string, error) {
	var runs struct {
		Items []struct {
			PlanID string `json:"planId"`
		} `json:"items"`
	}
	if err := p.must(http.MethodGet, "/runs?kind=standard", nil, &runs); err != nil {
		return "", err
	}
	if len(runs.Items) == 0 {
		return "", errors.New("there is no standard among the sample records")
	}
	return runs.Items[0].PlanID, nil
}

// questionOf is a standard as it is asked for while somebody types.
func questionOf(p *person) (any, error) {
	var substances []struct {
		Substance map[string]any `json:"substance"`
	}
	if err := p.must(http.MethodGet, "/substances", nil, &substances); err != nil {
		return nil, err
	}
	for _, s := range substances {
		if s.Substance["key"] == "potassium-hydrogen-phthalate" {
			return map[string]any{
				"substance": s.Substance, "assayPercent": 99.95, "assayLimitsPercent": 0.05, "volume": map[string]any{"text": "250 mL"},
				"concentration": map[string]any{"text": "0.1000", "unit": "mol/L"}, "flaskClass": "A", "bandPercent": 1, "waterTemperature": 20,
				"balance": map[string]any{"name": "Fern", "capacity": 220, "resolution": 0.0001, "repeatability": 0.0001, "linearity": 0.0002},
			}, nil
		}
	}
	return nil, errors.New("the library lacks potassium hydrogen phthalate")
}
