# Amvek. `make demo` builds all and starts the demo home; `make test` runs every test.
# Each target does its own set-up; `make help` lists them.

VERSION ?= 0.1.0
export PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD = 1
# No path of this machine is in the program; the same for all, so that all is compiled once.
export GOFLAGS = -trimpath
GO_FILES := $(shell find . -name '*.go' -not -path './node_modules/*') go.mod go.sum $(wildcard store/migrations/*.sql profiles/*.json)
WEB_FILES := $(shell find web/src web/public -type f) web/index.html web/vite.config.ts web/package.json

.PHONY: help demo build test check bench lint format generate screenshots fuzz mutate torture clean

help:
	@echo "make demo         build all and start Amvek with the demo home (DEMO=--empty, --fresh, --listen …)"
	@echo "make build        build the one program, front end inside: build/amvek"
	@echo "make test         every test, the browser's included"
	@echo "make check        linters, types and unit tests"
	@echo "make bench        measure; writes build/bench.json"
	@echo "make generate     the API types of the front end from the OpenAPI document"
	@echo "make screenshots  the pictures of the README, from the demo home"
	@echo "make fuzz         fuzz the parsers for a while each"
	@echo "make mutate       which changes of the core no test notices; docs/reliability.md"
	@echo "make torture      a quarter of an hour of kills, wrong requests and changed documents; docs/reliability.md"

demo: build/amvek
	./build/amvek demo $(DEMO)

build: build/amvek

build/.packages: package.json package-lock.json web/package.json e2e/package.json
	npm ci --no-audit --no-fund --loglevel=error
	@mkdir -p build && touch $@

web/dist/index.html: build/.packages $(WEB_FILES)
	npm run --silent build -w web -- --logLevel warn
	@touch web/dist/.gitkeep

build/amvek: web/dist/index.html $(GO_FILES)
	go build -ldflags "-s -w -X main.version=$(VERSION)" -o $@ ./cmd/amvek

build/.mosquitto:
	@command -v mosquitto >/dev/null || [ -x /usr/sbin/mosquitto ] || { apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends mosquitto mosquitto-clients; }
	@mkdir -p build && touch $@

# Chromium without windows, which does less than Chromium that shows none.
build/.chromium:
	@command -v chromium-headless-shell >/dev/null || { apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends chromium-headless-shell; }
	@mkdir -p build && touch $@

# The document does not name the version of the program, so that types change only with the interface.
build/openapi.json: $(GO_FILES) | web/dist/.gitkeep
	@mkdir -p build
	go run ./cmd/amvek openapi > $@

generate: build/.packages build/openapi.json
	npm run --silent generate -w web

lint: build/.packages build/openapi.json
	@test -z "$$(gofmt -l $$(git ls-files '*.go'))" || { echo "gofmt would change:"; gofmt -l $$(git ls-files '*.go'); exit 1; }
	go vet ./...
	go tool staticcheck ./...
	go test -count=1 ./internal/architecture # what it reads by other programs is not seen by the cache
	cd web && npx openapi-typescript ../build/openapi.json -o ../build/schema.gen.ts >/dev/null
	@cmp -s build/schema.gen.ts web/src/api/schema.gen.ts || { echo "web/src/api/schema.gen.ts is out of date: run make generate"; exit 1; }
	npm run --silent lint -w web
	npm run --silent types -w web
	npm run --silent types -w e2e

check: lint
	go test -short ./...
	npm run --silent test -w web

# The race detector needs a C compiler.
build/.compiler:
	@command -v cc >/dev/null || { apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends gcc libc6-dev; }
	@mkdir -p build && touch $@

# With the race detector, all that runs beside something else: not the core, which starts no goroutine (internal/architecture
# guards it), and not the C code of SQLite in translation, which is not ours. Its driver is not left out: of generic types such
# as sync.Map the linker takes one copy for all packages, and one without the detector has it see races where there are none.
# Laws over documents are tried in full without it.
UNRACED = $(foreach package,sqlite/lib libc memory mathutil,-gcflags=modernc.org/$(package)=-race=false)
LAWS = WhateverIsAccepted|RefusedMeansUnchanged
test: lint build/amvek build/.chromium build/.compiler build/.mosquitto
	go test ./core/...
	go test ./hub ./cmd/amvek -run '$(LAWS)'
	CGO_ENABLED=1 go test -race $(UNRACED) $$(go list ./... | grep -v amvek/core)
	npm run --silent test -w web
	CI=1 npm run --silent test -w e2e

bench: build/amvek build/.chromium
	go run ./bench -amvek build/amvek -out build/bench.json

screenshots: build/amvek build/.chromium
	npm run --silent screenshots -w e2e

fuzz:
	for f in FuzzModel FuzzDescription FuzzValue FuzzDecode; do go test ./core/thing -run '^$$' -fuzz "^$$f$$" -fuzztime 20s || exit 1; done
	go test ./core/document -run '^$$' -fuzz '^FuzzJoin$$' -fuzztime 20s
	go test ./core/address -run '^$$' -fuzz '^FuzzHide$$' -fuzztime 20s
	go test ./core/rule -run '^$$' -fuzz '^FuzzRule$$' -fuzztime 20s
	go test ./core/gesture -run '^$$' -fuzz '^FuzzAnyStreamEndsWithAKeyThatIsUp$$' -fuzztime 20s
	for f in FuzzLink FuzzStages; do go test ./core/link -run '^$$' -fuzz "^$$f$$" -fuzztime 20s || exit 1; done
	go test ./core/almanac -run '^$$' -fuzz '^FuzzCalendar$$' -fuzztime 20s
	go test ./core/expr -run '^$$' -fuzz '^FuzzCompile$$' -fuzztime 20s
	go test ./core/script -run '^$$' -fuzz '^FuzzScript$$' -fuzztime 20s
	go test ./server -run '^$$' -fuzz '^FuzzStranger$$' -fuzztime 20s
	go test ./hub/compose -run '^$$' -fuzz '^FuzzFields$$' -fuzztime 20s
	go test ./hub/author -run '^$$' -fuzz '^FuzzReadRule$$' -fuzztime 20s
	go test ./connect/outside -run '^$$' -fuzz '^FuzzPick$$' -fuzztime 20s
	go test ./connect/mqtt -run '^$$' -fuzz '^FuzzSay$$' -fuzztime 20s
	go test ./connect/bridge -run '^$$' -fuzz '^FuzzEvent$$' -fuzztime 20s
	go test ./core/thing -run '^$$' -fuzz '^FuzzLine$$' -fuzztime 20s
	go test ./connect/radio -run '^$$' -fuzz '^FuzzParse$$' -fuzztime 20s

# Changes lines of the core one by one and counts which changes a test notices (gremlins, Apache-2.0). The engine is large: of
# it a sample is taken, MUTATE=engine, of what decides who holds a property and when a device is silent or differs.
MUTATE ?= address almanac battery cause check cover document expr gate hold home light pointer recap rehearse rhythm rule script sensor starting state tell thing trial
ENGINE_SAMPLE = agree|attended|exclude|index|paused|ramp|sets|silence|suspect
mutate:
	@mkdir -p build/mutants
	for p in $(MUTATE); do GOFLAGS='-vet=off -short' go run github.com/go-gremlins/gremlins/cmd/gremlins@v0.6.0 unleash ./core/$$p --workers 2 --timeout-coefficient 5 \
		$$(test $$p != engine || ls core/engine | grep -vE '^($(ENGINE_SAMPLE))\.go$$' | sed 's/^/--exclude-files=^/; s/$$/$$/') \
		--output build/mutants/$$p.json > build/mutants/$$p.txt 2>&1 || exit 1; echo "core/$$p: $$(grep 'Test efficacy' build/mutants/$$p.txt), survivors in build/mutants/$$p.txt"; done

torture: | web/dist/.gitkeep
	AMVEK_KILLS=1000 go test ./cmd/amvek -run ByAKill -v -timeout 30m | grep -v '^='
	AMVEK_WRONG_ROUNDS=7 go test ./cmd/amvek -run RefusedMeansUnchanged -v -timeout 30m | grep -v '^=\|serverErrorHandler'
	for seed in 1 2 3 4 5 6 7 8 9 10; do AMVEK_SEED=$$seed AMVEK_DOCUMENTS=5000 go test ./hub -run WhateverIsAccepted -v -timeout 30m | grep -v '^='; done
	go test ./core/almanac -run '^$$' -bench FiveThousand -benchtime 5x

format: build/.packages
	gofmt -w $$(git ls-files '*.go')
	npm run --silent format -w web

clean:
	rm -rf build node_modules web/dist/assets web/dist/index.html
