# make demo          start everything on this machine with made-up data
# make demo-reset    forget the demo's data
# make test          all tests        make check   formatting, types, lint, generated code
# make bench         measurements      make torture   200 rounds of killing server and database
# make fuzz          longer fuzzing    make screenshots   pictures for docs/
# make sweep         every view, at every width, by day and night, in both languages, by axe-core
# make dependencies  the list of what the application is made of

LISTEN  ?= 127.0.0.1:8080
MAILBOX ?= 127.0.0.1:8025
SMTP    ?= 127.0.0.1:2525
SUBMISSION ?= 127.0.0.1:2587
FUZZTIME ?= 60s
export GOFLAGS := -buildvcs=false
# The program that the tests of commands run; without it they build their own.
export TABULARIS_PROGRAM := $(CURDIR)/bin/tabularis

WEB_SOURCES := $(shell find web/src web/public -type f) web/index.html web/visitor.html web/vite.config.ts web/package-lock.json
PACKAGES    := ./cmd/... ./core/... ./internal/... ./test/... ./web
GO_SOURCES  := $(shell find api cmd core internal web -path web/node_modules -prune -o \( -name '*.go' -o -name '*.sql' -o -name '*.yaml' \) -print) go.mod go.sum

.PHONY: demo demo-reset build test check generate bench torture sweep fuzz screenshots dependencies need-demo need-test

demo: need-demo build
	@exec ./bin/tabularis demo --listen $(LISTEN) --mailbox $(MAILBOX) --smtp $(SMTP) --submission $(SUBMISSION)

demo-reset:
	rm -rf data

need-demo:
	@command -v go >/dev/null || { echo "Go is not installed; see https://go.dev/doc/install"; exit 1; }
	@command -v npm >/dev/null || { echo "Node.js with npm is not installed; on Debian: apt-get install nodejs npm"; exit 1; }
	@./scripts/need.sh postgresql

need-test: need-demo
	@./scripts/need.sh chromium poppler-utils python3 tesseract-ocr age qpdf openssl

build: web/dist/index.html bin/tabularis

web/node_modules/.package-lock.json: web/package-lock.json
	@echo "Installing the web packages …"
	@cd web && npm ci --no-fund --no-audit --loglevel=error
	@touch $@

web/dist/index.html: $(WEB_SOURCES) web/node_modules/.package-lock.json
	@echo "Building the front end …"
	@cd web && npx --no-install vite build --logLevel error

bin/tabularis: $(GO_SOURCES) web/dist/index.html
	@echo "Building the server …"
	@go build -o bin/ ./cmd/...

# What is generated from the contract, api/*.yaml.
GENERATED = api/openapi.yaml web/src/api/schema.gen.ts $(wildcard internal/doors/web/*/*.gen.go)

generate:
	go generate ./internal/doors/web/contract
	go generate ./internal/doors/web/...
	cd web && npx --no-install openapi-typescript ../api/openapi.yaml -o src/api/schema.gen.ts >/dev/null

check: need-demo build
	@test -z "$$(gofmt -l cmd core internal web/*.go | tee /dev/stderr)" || { echo "not formatted: run gofmt -w"; exit 1; }
	go vet $(PACKAGES)
	@before=$$(sha256sum $(GENERATED)) && $(MAKE) -s generate && [ "$$before" = "$$(sha256sum $(GENERATED))" ] || { echo "generated code was stale"; exit 1; }
	@! grep -q '"resolved"' web/package-lock.json || { echo "the lock file holds download addresses"; exit 1; }
	cd web && npx --no-install vue-tsc --noEmit && npx --no-install eslint --max-warnings 0 src && npx --no-install prettier --check --log-level warn src

test: need-test build
	go test -parallel 4 -timeout 30m $(PACKAGES)
	TABULARIS_PROCESSES=2 TABULARIS_BUCKET=yes go test -count=1 -parallel 4 -timeout 30m ./test/api

bench: need-test build
	@./scripts/need.sh nginx-light zip
	go test -run '^$$' -bench . -benchtime 1x -timeout 60m ./test/bench
	@go test -count=1 -run TestPrecisionAndRecall -v ./core/scan | grep recall

torture: need-test build
	TORTURE_ROUNDS=200 go test -count=1 -v -timeout 60m ./test/torture
	TORTURE_ROUNDS=200 go test -count=1 -v -timeout 20m -run 'TestThousandsOfFilesInOneDrop|TestManyRemarks|TestARandomWalk$$' ./test/api
	TORTURE_ROUNDS=200 go test -count=1 -v -timeout 10m -run 'TestSixInACall' ./test/jobs

sweep: need-test build
	SWEEP=all go test -count=1 -timeout 60m -run TestPagesAreAccessible ./test/jobs

fuzz:
	@for t in $$(grep -rlE '^func Fuzz' --include='*_test.go' core internal); do d=./$$(dirname $$t); \
	  for f in $$(grep -ohE '^func Fuzz[A-Za-z]*' $$t | cut -c6-); do echo "$$d $$f"; go test -run '^$$' -fuzz "^$$f$$" -fuzztime $(FUZZTIME) $$d || exit 1; done; done

dependencies: need-demo web/node_modules/.package-lock.json
	@go run ./cmd/dependencies > docs/dependencies.md.new && mv docs/dependencies.md.new docs/dependencies.md

screenshots: need-test build
	@rm -rf /tmp/tabularis-shots-data; \
	./bin/tabularis demo --dir /tmp/tabularis-shots-data --listen 127.0.0.1:8089 --mailbox 127.0.0.1:8090 --smtp 127.0.0.1:8091 >/dev/null & pid=$$!; \
	for i in $$(seq 60); do curl -fs -o /dev/null http://127.0.0.1:8089/sign-in && break; sleep 1; done; \
	./bin/screenshots -from http://127.0.0.1:8089 -to docs/screenshots; status=$$?; kill -INT $$pid; wait $$pid; exit $$status
