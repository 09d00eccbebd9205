# Calado. `make demo` and `make test` set up all they need on a fresh machine; run again they change nothing.
PORT ?= 8000
export PORT
# Python's and the web's packages don't wait for each other, nor do the kernels for the web
MAKEFLAGS += --jobs=2
PY := .venv/bin/python
# what Python has read once it reads faster, whatever the surroundings say: a server's parts start in half the time
export PYTHONDONTWRITEBYTECODE=

.PHONY: demo kernels test quick check dev bench quality starters screenshots setup web schema demo-scenes clean

demo: web ## set up, load the demo, serve it
	@$(PY) manage.py migrate --verbosity 0
	@$(PY) manage.py warm
	@$(PY) manage.py load_demo
	@$(PY) manage.py serve --port $(PORT)

test: setup web kernels ## every test
	@$(PY) -m tools.lanes

quick: .make/dev .make/node kernels ## the tests that need no browser and do not take long
	@$(PY) -m tools.lanes quick

check: setup web ## format, lint, types, layers, dead code
	@tools/check

dev: setup ## server with reload, and the web with hot reload on port 5173
	@$(PY) manage.py migrate --verbosity 0
	@tools/dev

bench: setup web ## the table of speeds
	@$(PY) -m benchmarks.run

quality: setup ## how well following follows, in docs/quality.md
	@$(PY) -m benchmarks.following

starters: .make/dev ## every starter on every still of the demo, in var/starters.jpg
	@$(PY) -m tools.starters

screenshots: setup web kernels ## docs/screenshots from the demo
	@$(PY) -m tools.screenshots

kernels: .make/run ## compile every kernel into its cache, so that no page waits for one
	@$(PY) manage.py warm

demo-scenes: setup .make/scenes ## render the demo's stills and clips anew, which takes about two hours
	@rm -rf var/scenes
	@for each in a_bench b_portrait c_dusk d_shelf e_booth f_night g_wood walk push swing exposures variants; do \
		$(PY) -m demo.scenes.$$each || exit 1; done
	@for each in a_bench b_portrait; do \
		$(PY) -m demo.scenes.$$each --width 6000 --samples 4 --large || exit 1; done

setup: .make/dev .make/browser .make/node

web: .make/run .make/web

schema: .make/run .make/node ## web types from the server's API
	@$(PY) manage.py export_openapi_schema --api server.api.api.api --indent 1 > web/openapi.json
	@cd web && ../tools/with-node npx --no-install openapi-typescript openapi.json -o src/api/schema.d.ts

.make/run: requirements.lock tools/setup
	@tools/setup run && touch $@

.make/dev: requirements-dev.lock .make/run
	@tools/setup dev && touch $@

.make/browser: tools/setup
	@tools/setup browser && touch $@

.make/scenes: .make/dev
	@tools/setup scenes && touch $@

.make/node: web/package-lock.json requirements-node.lock tools/setup
	@tools/setup node && touch $@

.make/web: .make/node $(shell find web/src web/public web/index.html web/vite.config.ts -type f)
	@tools/setup web && touch $@

clean: ## forget what was set up and built, never the data
	rm -rf .venv web/node_modules web/dist .make
