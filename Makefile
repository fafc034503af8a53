# Given Go, Node, npm and a C compiler, every target installs what else it needs.

GO   ?= go
DATA ?= .data/demo
PORT ?= 8080

FRONT := $(shell find web/src -type f) web/index.html web/desk.html web/vite.config.ts web/package.json $(shell find web/public -type f)
SOURCES := $(shell find cmd internal demo api -name '*.go' -not -name '*_test.go') $(shell find internal demo -name '*.json' -o -name '*.html' -o -name '*.css')

.PHONY: demo demo-fresh test check build generate screenshots bench tools clean

## demo: serve the sample business with its data kept in $(DATA)
demo: build
	bin/ruvo demo --data $(DATA) --port $(PORT)

## demo-fresh: the same, starting over
demo-fresh: build
	bin/ruvo demo --data $(DATA) --port $(PORT) --fresh

## build: one binary with the front end and the demo data inside
build: bin/ruvo

bin/ruvo: web/dist/index.html $(SOURCES)
	CGO_ENABLED=1 $(GO) build -o bin/ruvo ./cmd/ruvo

web/node_modules/.installed: web/package-lock.json
	cd web && npm install --no-audit --no-fund
	touch $@

web/dist/index.html: web/node_modules/.installed $(FRONT)
	cd web && npm run build
	touch $@

## generate: the types and routes of the API contract, for Go and TypeScript
generate: web/node_modules/.installed
	$(GO) tool oapi-codegen -config api/models.yaml api/openapi.yaml
	$(GO) tool oapi-codegen -config api/server.yaml api/openapi.yaml
	cd web && npm run generate

## tools: what tests need besides the packages: a browser
tools:
	@command -v chromium-headless-shell >/dev/null || { \
		sudo=; [ "$$(id -u)" = 0 ] || sudo=sudo; \
		$$sudo apt-get update -q && $$sudo apt-get install -y -q --no-install-recommends chromium-headless-shell; }

## check: formatting, types, lint, and that generated code is current
check: web/dist/index.html
	@unformatted=$$(gofmt -l cmd internal demo e2e api web/*.go); [ -z "$$unformatted" ] || { echo "gofmt: $$unformatted"; exit 1; }
	$(GO) vet ./...
	$(GO) tool staticcheck ./...
	cd web && npx biome check .
	cd web && npx tsc --noEmit
	@scratch=$$(mktemp -d) && trap 'rm -rf "$$scratch"' EXIT && \
	cp api/models.gen.go "$$scratch/models" && cp internal/web/server.gen.go "$$scratch/server" && cp web/src/shared/api/schema.gen.ts "$$scratch/schema" && \
	$(MAKE) -s generate >/dev/null && \
	cmp api/models.gen.go "$$scratch/models" && cmp internal/web/server.gen.go "$$scratch/server" && cmp web/src/shared/api/schema.gen.ts "$$scratch/schema" \
	|| { echo "generated code is not current: run make generate and commit it"; exit 1; }

## test: everything
test: tools check bin/ruvo
	$(GO) test -timeout 20m ./...

## screenshots: redraw docs/screenshots from the demo data
screenshots: tools web/dist/index.html
	RUVO_SCREENSHOTS=$(CURDIR)/docs/screenshots $(GO) test ./e2e -run TestScreenshots -count=1

## bench: the ratios of docs/benchmarks.md
bench: web/dist/index.html
	$(GO) test ./... -run xxx -bench . -benchtime 2s

clean:
	rm -rf bin web/node_modules
