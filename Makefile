# make demo   start the program with its demo data
# make test   lint, types, import rules and all tests, the browser's included
# make test-long   the same with more examples, over a night
# make test-postgres   the tests of the web on PostgreSQL, with a server of their own
# make bench  measure speed and write docs/performance.md
# make mutants break the core and see which test notices
# make soak   try to lose edits, kill the server, send nonsense; write docs/reliability.md
VENV := .venv
DEV := .venv-dev
NODE := .node-dev/node_modules/.bin
TESTING := DJANGO_SETTINGS_MODULE=fotonomy.site.settings.testing
export DJANGO_SETTINGS_MODULE ?= fotonomy.site.settings.demo

.PHONY: demo test test-long test-postgres bench soak mutants screenshots format run-environment dev-environment

run-environment:
	@tools/environment.sh $(VENV) requirements.txt

dev-environment:
	@tools/environment.sh $(DEV) requirements-dev.txt
	@tools/chromium.sh
	@tools/scripts.sh .node-dev

demo: run-environment
	@$(VENV)/bin/python manage.py migrate --verbosity 0
	@$(VENV)/bin/python manage.py load_demo
	@$(VENV)/bin/python manage.py collectstatic --noinput --verbosity 0
	@$(VENV)/bin/python -m fotonomy.site.serve

# Each check by itself; `make -j2 checks` runs two at a time.
CHECKS := check-python check-templates check-types check-imports check-scripts check-migrations
.PHONY: $(CHECKS) checks
check-python: dev-environment
	$(DEV)/bin/ruff format --check .
	$(DEV)/bin/ruff check .
check-templates: dev-environment
	$(DEV)/bin/djlint --check --lint --quiet fotonomy
check-types: dev-environment
	$(DEV)/bin/mypy
check-imports: dev-environment
	$(DEV)/bin/lint-imports
check-scripts: dev-environment
	$(NODE)/biome ci --config-path=tools/scripts fotonomy/web/static/web
	$(NODE)/tsc -p tools/scripts
check-migrations: dev-environment
	$(TESTING) $(DEV)/bin/python manage.py makemigrations --check --dry-run
checks: $(CHECKS)

test: dev-environment
	@$(MAKE) --no-print-directory -j2 --output-sync=target checks
	$(TESTING) $(DEV)/bin/pytest -n 2 --dist worksteal

# The same tests with more of everything that is made by chance: some hours.
test-long: dev-environment
	FOTONOMY_LONG=1 $(TESTING) $(DEV)/bin/pytest -n 2 --dist worksteal

test-postgres: dev-environment
	$(TESTING) tools/postgres.sh \
		$(DEV)/bin/pytest -n 2 --dist worksteal tests/web

bench: dev-environment
	@$(DEV)/bin/python -m benchmarks

soak: dev-environment
	@$(DEV)/bin/python -m soak

mutants: dev-environment
	@$(DEV)/bin/python -m tools.mutants

screenshots: dev-environment
	@$(DEV)/bin/python tools/screenshots.py

format: dev-environment
	$(DEV)/bin/ruff check --fix .
	$(DEV)/bin/ruff format .
	$(DEV)/bin/djlint --reformat --quiet fotonomy || true
	$(NODE)/biome check --write --config-path=tools/scripts fotonomy/web/static/web
