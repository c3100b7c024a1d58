# make demo   start the program with its demo data
# make test   lint, types, import rules and all tests, the browser's included
# make test-postgres   the tests of the web on PostgreSQL, with a server of their own
# make bench  measure speed and write docs/performance.md
# make soak   try to lose edits, kill the server, send nonsense; write docs/reliability.md
VENV := .venv
DEV := .venv-dev
export DJANGO_SETTINGS_MODULE ?= fotonomy.site.settings.demo

.PHONY: demo serve test test-postgres bench soak screenshots format run-environment dev-environment

run-environment:
	@tools/environment.sh $(VENV) requirements.txt

dev-environment:
	@tools/environment.sh $(DEV) requirements-dev.txt
	@tools/chromium.sh

demo: run-environment
	@$(VENV)/bin/python manage.py migrate --verbosity 0
	@$(VENV)/bin/python manage.py load_demo
	@$(VENV)/bin/python manage.py collectstatic --noinput --verbosity 0
	@$(VENV)/bin/python -m fotonomy.site.serve

test: dev-environment
	$(DEV)/bin/ruff format --check .
	$(DEV)/bin/ruff check .
	$(DEV)/bin/djlint --check --lint --quiet fotonomy
	$(DEV)/bin/mypy
	$(DEV)/bin/lint-imports
	DJANGO_SETTINGS_MODULE=fotonomy.site.settings.testing $(DEV)/bin/python manage.py makemigrations --check --dry-run
	DJANGO_SETTINGS_MODULE=fotonomy.site.settings.testing $(DEV)/bin/pytest -n 2 --dist worksteal

test-postgres: dev-environment
	DJANGO_SETTINGS_MODULE=fotonomy.site.settings.testing tools/postgres.sh \
		$(DEV)/bin/pytest -n 2 --dist worksteal tests/web

bench: dev-environment
	@$(DEV)/bin/python -m benchmarks

soak: dev-environment
	@$(DEV)/bin/python -m soak

screenshots: dev-environment
	@$(DEV)/bin/python tools/screenshots.py

format: dev-environment
	$(DEV)/bin/ruff check --fix .
	$(DEV)/bin/ruff format .
	$(DEV)/bin/djlint --reformat --quiet fotonomy || true
