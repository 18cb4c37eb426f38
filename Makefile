# The two commands that matter: make demo, make test.
SHELL := /bin/bash
.SHELLFLAGS := -eu -o pipefail -c
.DEFAULT_GOAL := demo
.PHONY: demo run test test-fast lint types format bench pictures chromium release

version := $(shell git describe --tags --always --dirty 2>/dev/null || echo unknown)
flags = -s -w -X main.version=$(version)

step = @printf '\n== %s\n'
export npm_config_loglevel = error

web_sources := $(shell find web/src web/public -type f) web/index.html web/package.json web/package-lock.json web/vite.config.ts web/svelte.config.js
go_sources := $(shell find cmd core internal demo web -name '*.go' -not -path '*/node_modules/*') $(wildcard demo/*/*.json demo/pictures/*/* internal/store/migrations/*.sql core/pattern/sets/* core/circuit/families/* internal/instrument/words/*) go.mod go.sum

## Fetch, build and start Step Trace with the demo workshop.
demo: bin/steptrace
	$(step) 'starting with the demo workshop'
	bin/steptrace -demo -data var/demo.db

## Start it with the workshop's own data.
run: bin/steptrace
	bin/steptrace

## Everything that is checked: format, linters, types, Go tests, browser tests.
test: chromium lint
	$(step) 'Go tests'
	STEPTRACE_FULL=1 go test -timeout 15m $$(go list ./... | grep -v /e2e)
	$(step) 'browser tests' # by themselves: a browser that shares the machine is slow to answer
	go test -timeout 15m ./e2e/...

lint: bin/steptrace types-fresh
	$(step) 'format and linters, Go'
	@unformatted=$$(gofmt -l cmd core demo e2e internal web/web.go); test -z "$$unformatted" || { echo "not formatted: $$unformatted (make format)"; exit 1; }
	go vet ./...
	go tool staticcheck ./...
	$(step) 'linters and type check, front end'
	cd web && npm run --silent lint && npm run --silent check

## Go routes and wire structs -> OpenAPI -> TypeScript.
generate = go run ./cmd/schema api > $(1)/openapi.json; \
	node web/tools/api.mjs types < $(1)/openapi.json > $(1)/types.gen.ts; node web/tools/api.mjs routes < $(1)/openapi.json > $(1)/routes.gen.ts; \
	for f in sheet job experience; do go run ./cmd/schema $$f > $(1)/$$f.schema.json; done

types: web/node_modules/.installed
	@made=$$(mktemp -d); trap 'rm -rf "$$made"' EXIT; $(call generate,"$$made"); \
	cp "$$made"/*.gen.ts web/src/api/; cp "$$made"/*.schema.json docs/schema/

.PHONY: types-fresh
types-fresh: web/node_modules/.installed
	$(step) 'generated types are fresh'
	@made=$$(mktemp -d); trap 'rm -rf "$$made"' EXIT; $(call generate,"$$made"); \
	cmp "$$made/types.gen.ts" web/src/api/types.gen.ts && cmp "$$made/routes.gen.ts" web/src/api/routes.gen.ts && \
	for f in sheet job experience; do cmp "$$made/$$f.schema.json" "docs/schema/$$f.schema.json" || { echo 'stale: run make types'; exit 1; }; done

format: web/node_modules/.installed
	gofmt -w cmd core demo e2e internal web/web.go
	cd web && npm run --silent format

## Times, a workshop of ten thousand jobs included (some minutes).
bench:
	STEPTRACE_FULL=1 go test -run '^$$' -bench . -benchmem -timeout 40m ./core/... ./internal/...

## Take the README's pictures again.
pictures: chromium bin/steptrace
	go run ./cmd/pictures docs/screenshots

chromium:
	@command -v chromium >/dev/null || { \
	  printf '\n== installing Chromium from Debian (about a minute)\n'; \
	  sudo=$$( [ "$$(id -u)" = 0 ] || echo sudo ); \
	  $$sudo apt-get update -qq && $$sudo env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends chromium >/dev/null; }

web/node_modules/.installed: web/package-lock.json
	$(step) 'fetching the front end packages (about a minute the first time)'
	cd web && npm ci --no-progress
	@touch $@

web/dist/.built: web/node_modules/.installed $(web_sources)
	$(step) 'building the front end'
	cd web && npm run --silent build -- --logLevel warn
	@touch $@

web/dist/.packed: web/dist/.built cmd/notices/main.go go.mod go.sum
	$(step) 'gathering the licences of what is shipped, packing the pages'
	rm -f web/dist/notices.txt.gz
	go run ./cmd/notices > web/dist/notices.txt
	find web/dist -type f ! -name '.*' ! -name '*.gz' ! -name '*.woff2' -exec gzip -9nf {} +
	@touch $@

bin/steptrace: web/dist/.packed $(go_sources)
	$(step) 'building the program (a few minutes the first time)'
	CGO_ENABLED=0 go build -v -trimpath -ldflags '$(flags)' -o $@ ./cmd/steptrace

## Programs for all systems, with what starts them and their sums, in var/release.
release: web/dist/.packed
	$(step) 'building for all systems'
	packaging/release.sh "$(version)" "$(flags)"
