# Vial Bench. `make` lists what can be made.
SHELL := /bin/bash
.DEFAULT_GOAL := help
.PHONY: help demo dev test bench load soak measure faults mutants build generate generated-current lint test-go test-browser screenshots db-start db-stop clean

NPM := npm --no-fund --no-audit
TOOL := go tool -modfile=tools/go.mod
MODULES := node_modules/.installed
SITE := frontend/dist/index.html
SITE_SOURCES := $(shell find frontend/src frontend/public -type f 2>/dev/null) frontend/index.html frontend/vite.config.ts
AHEAD := frontend/src/ahead/core.wasm.gz
GENERATED := internal/httpapi/contract.gen.go frontend/src/api/schema.d.ts docs/rules.md

help: ## this list
	@awk -F ':.*## ' '/^[a-z-]+:.*## / { printf "  make %-13s %s\n", $$1, $$2 }' $(MAKEFILE_LIST)

demo: ## everything installed, built, started, with the sample records
	@scripts/demo.sh

dev: $(MODULES) $(AHEAD) ## server and front end with hot reload
	@scripts/dev.sh

test: ## all checks: generated files, lint, types, Go tests, browser tests
	@scripts/test.sh

bench: ## benchmarks of the core and of the API
	@. scripts/common.sh && VIALBENCH_TEST_DATABASE_URL=$$(scripts/db.sh start) go test -run '^$$' -bench . -benchmem ./core/... ./internal/httpapi

load: bin/vialbench ## a class at work on a server of its own: how long people wait (PEOPLE=200 for a college)
	@. scripts/common.sh && export VIALBENCH_TEST_DATABASE_URL=$$(scripts/db.sh start) && \
	  for people in $${PEOPLE:-50 200}; do go run ./scripts/load -people $$people; done

soak: bin/vialbench ## half an hour of a class at work: whether memory stays (MINUTES=5 for less)
	@. scripts/common.sh && export VIALBENCH_TEST_DATABASE_URL=$$(scripts/db.sh start) && \
	  go run ./scripts/load -soak -seconds $$(( 60 * $${MINUTES:-30} ))

measure: bin/vialbench ## in the browser: from a key to its answer, first loads, the heap of a page
	scripts/browser.sh measure --workers 1 --reporter line | grep -E '^\||first load|^heap'

faults: $(SITE) ## servers and databases killed, wires cut, clocks wrong, for three minutes: what is lost (FOR=10m for longer)
	@scripts/faults.sh

mutants: ## faults planted in a package of the core, and how many its tests find: make mutants OF=quantity
	go clean -testcache # the time of a cached run is no measure: all would be called timed out
	$(TOOL) gremlins unleash --workers 2 --timeout-coefficient 15 ./core/$(OF)

build: bin/vialbench ## the program, with the front end in it

bin/vialbench: $(SITE) $(shell find core internal cmd demo frontend/embed.go -type f 2>/dev/null) go.mod
	go build -o $@ ./cmd/vialbench

$(MODULES): package.json package-lock.json frontend/package.json e2e/package.json
	$(NPM) ci --ignore-scripts
	@touch $@

# The core for the browser, with what Go needs there.
$(AHEAD): $(shell find core cmd/ahead -type f -not -name '*_test.go') go.mod
	GOOS=js GOARCH=wasm go build -trimpath -ldflags='-s -w' -o $(@:.gz=) ./cmd/ahead
	gzip -9nf $(@:.gz=)
	install -m 644 "$$(go env GOROOT)/lib/wasm/wasm_exec.js" $(dir $@)

$(SITE): $(MODULES) $(AHEAD) $(SITE_SOURCES)
	$(NPM) -w frontend run build --silent

generate: $(MODULES) ## contract to Go and TypeScript, rules to docs
	$(TOOL) oapi-codegen -config internal/httpapi/oapi-codegen.yaml api/openapi.yaml
	$(NPM) -w frontend run generate --silent
	go run ./scripts/rules

generated-current: ## fails when a generated file is stale
	@before=$$(cat $(GENERATED) | sha256sum) && $(MAKE) -s generate >/dev/null && after=$$(cat $(GENERATED) | sha256sum) && \
	  [ "$$before" = "$$after" ] || { echo "Generated files were stale: commit what make generate wrote." >&2; exit 1; }

lint: $(MODULES) $(SITE) ## go.mod, golangci-lint (gofumpt, gci), types, ESLint, Prettier
	go mod tidy -diff
	$(TOOL) golangci-lint run ./...
	$(NPM) --workspaces run types --silent
	$(NPM) -w frontend run lint --silent
	$(NPM) run format-check --silent

test-go: $(SITE) ## Go tests, on the private PostgreSQL (needs pdftotext, and gcc for the race detector)
	export VIALBENCH_TEST_DATABASE_URL=$$(scripts/db.sh start) && go test ./core/... ./demo/... && \
	  go test -race -timeout 30m ./internal/... ./cmd/... # what runs at once; the core does not

test-browser: bin/vialbench ## browser tests, on the private PostgreSQL
	scripts/browser.sh test

screenshots: bin/vialbench ## the pictures in docs/screenshots, from the sample records
	scripts/browser.sh screenshots

db-start: ## the private PostgreSQL in .vialbench
	@scripts/db.sh start

db-stop: ## stop it
	@scripts/db.sh stop

clean: ## what was built
	rm -rf bin frontend/dist/* e2e/results frontend/src/ahead/core.wasm.gz frontend/src/ahead/wasm_exec.js
