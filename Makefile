# make demo: build, start with the demo data.  make test: everything that is checked.
BIN := bin/amber-keystone

.PHONY: demo test lint build web dev shots api bench crash attack race fuzz need-chromium

demo: build
	./$(BIN) demo

build: web
	go build -o $(BIN) ./cmd/amber-keystone

web: web/node_modules
	cd web && npm run --silent build

web/node_modules: web/package-lock.json
	cd web && npm ci --no-audit --no-fund
	touch web/node_modules

test: build need-chromium lint
	cd web && npm test --silent
	go test -timeout 25m ./...
	cd check/cedar && go test ./...

# Format, vet, staticcheck, ESLint and Prettier, the types of the pages and of the API; and known weaknesses, where
# VULNDB says where their list is to be had.
lint: build
	test -z "$$(gofmt -l .)"
	go vet ./...
	go tool staticcheck ./...
	cd web && npm run --silent check && npm run --silent lint
	./$(BIN) openapi | diff -q - web/openapi.json || (echo "web/openapi.json is old: make api"; exit 1)
	@if [ -n "$(VULNDB)" ]; then go run golang.org/x/vuln/cmd/govulncheck@v1.9.0 -db $(VULNDB) ./...; \
	else echo "no list of known weaknesses is named (make lint VULNDB=address): govulncheck is left out"; fi

# The server and the stand-ins are killed under load, 100 times; 30,000 requests that nobody means well with.
crash: build
	go run ./e2e/crash/run -bin $(BIN)

attack: build
	go run ./e2e/attack/run -bin $(BIN)

# The race detector over every package. The pages are not driven: their tests run the same server more slowly.
race: build
	go test -race $$(go list ./... | grep -v -e /e2e$$ -e /e2e/shots)

# Each fuzz target for a while, from its seeds.
fuzz:
	@for p in $$(grep -rl --include='*_test.go' '^func Fuzz' . | grep -v node_modules | xargs -n1 dirname | sort -u); do \
		for f in $$(grep -rhoE --include='*_test.go' '^func Fuzz[A-Za-z]+' $$p | sed 's/^func //'); do \
			echo "$$p $$f"; go test $$p -run XXX -fuzz "^$$f$$" -fuzztime $${FOR:-20s} -fuzzminimizetime 10x || exit 1; \
		done; \
	done

# The API as OpenAPI, and the TypeScript types made from it.
api:
	go run ./cmd/amber-keystone openapi > web/openapi.json
	cd web && npm run --silent api

# Vite with reload at http://127.0.0.1:5173, beside the demo's server.
dev: build
	./$(BIN) demo & trap "kill $$!" EXIT; cd web && npm run dev

shots: build need-chromium
	rm -rf data/shots
	./$(BIN) demo --data data/shots --listen 127.0.0.1:8479 --rack-port 27901 & trap "kill $$!" EXIT; sleep 3; go run ./e2e/shots -url http://127.0.0.1:8479

bench:
	go test -run '^$$' -bench . -benchmem ./...

need-chromium:
	@command -v chromium >/dev/null || (apt-get update && apt-get install -y --no-install-recommends chromium)
