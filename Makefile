# make demo: build, start with the demo data.  make test: everything that is checked.
BIN := bin/amber-keystone

.PHONY: demo test build web dev shots api bench need-chromium

demo: build
	./$(BIN) demo

build: web
	go build -o $(BIN) ./cmd/amber-keystone

web: web/node_modules
	cd web && npm run --silent build

web/node_modules: web/package-lock.json
	cd web && npm ci --no-audit --no-fund
	touch web/node_modules

test: build need-chromium
	test -z "$$(gofmt -l .)"
	go vet ./...
	./$(BIN) openapi | diff -q - web/openapi.json || (echo "web/openapi.json is old: make api"; exit 1)
	go test ./...

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
