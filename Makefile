# make demo        builds everything and starts the service on loopback with the demo data
# make test        installs what is missing, runs every check and test, ends with "N passed, N failed"
# make screenshots makes every picture in docs/screenshots from the demo data
# make mutants FOLDER=Negotiation: which careless alterations of a folder of the core no test notices; takes an hour
# make fleet, make bench, make soak, make kills: the large fleet, ratios measured on it, random ends by the million, power cuts
SHELL := /bin/bash
.SHELLFLAGS := -euo pipefail -c
.ONESHELL:
.DEFAULT_GOAL := build

export DOTNET_CLI_TELEMETRY_OPTOUT = 1
export DOTNET_NOLOGO = 1

CONSOLE := src/console
OUT := src/Service/bin/Release/net10.0
DEMO_DATA := .demo
DEMO_URL ?= http://127.0.0.1:5080
BUILT_CONSOLE := $(OUT)/wwwroot/index.html
CONSOLE_SOURCES := $(wildcard $(shell git ls-files --cached --others --exclude-standard $(CONSOLE) ':!$(CONSOLE)/tests'))
PARTS ?= 1
FOLDER ?= Negotiation
COUNT ?= 1000000

say = @printf '\n== %s\n' "$(1)"

.PHONY: mutants describe format audit fleet bench soak fuzz kills build dotnet console demo test screenshots check schema glossary clean chromium

build: console

# The .NET side first: the console's types are made from the interface that the service describes.
dotnet:
	$(call say,Building the service and the command)
	dotnet build Vellumkeep.slnx -c Release -v quiet --nologo

$(CONSOLE)/node_modules/.stamp: $(CONSOLE)/package.json $(CONSOLE)/package-lock.json
	$(call say,Installing the console's packages)
	cd $(CONSOLE)
	npm ci --no-audit --no-fund --loglevel=error
	touch node_modules/.stamp

# How the service describes its interface; the file keeps its day while nothing of that has changed.
describe: dotnet
	@mkdir -p $(CONSOLE)/src/contract .demo
	dotnet $(OUT)/Vellumkeep.Service.dll openapi --data .demo/describe --urls http://127.0.0.1:0 > .demo/openapi.json 2> /dev/null
	cmp -s .demo/openapi.json $(CONSOLE)/src/contract/openapi.json || cp .demo/openapi.json $(CONSOLE)/src/contract/openapi.json

$(CONSOLE)/src/contract/openapi.json: describe

# Built anew only when a source of the console or the interface has changed.
$(BUILT_CONSOLE): $(CONSOLE_SOURCES) $(CONSOLE)/src/contract/openapi.json $(CONSOLE)/node_modules/.stamp
	$(call say,Building the console)
	cd $(CONSOLE)
	npm run --silent types > /dev/null
	npm run --silent build -- --logLevel warn

console: describe $(BUILT_CONSOLE)

demo: build
	$(call say,Starting Vellumkeep with the demo data)
	rm -rf $(DEMO_DATA)/data $(DEMO_DATA)/data-keys
	echo "Sign in as  ines cold-store-1 (engineer) · tomas cold-store-2 (engineer and reviewer) · odile cold-store-3 (lead)"
	echo "            bram cold-store-4 (reader) · maud-audit cold-store-5 (reader of Saltmarsh Ferries only)"
	echo "Stop with Ctrl-C. Each start loads the demo afresh, relative to today; the log is in $(DEMO_DATA)/log."
	exec dotnet $(OUT)/Vellumkeep.Service.dll --data $(DEMO_DATA)/data --demo demo --urls $(DEMO_URL) 2> $(DEMO_DATA)/log

chromium:
	@if [ ! -x /usr/bin/chromium ]; then
	  printf '\n== Installing Chromium from Debian\n'
	  (apt-get update -qq && apt-get install -y -qq --no-install-recommends chromium fonts-dejavu-core) > /dev/null
	fi
	if [ ! -e /usr/share/zoneinfo/Europe/London ]; then
	  printf '\n== Installing the time zones from Debian\n'
	  (apt-get update -qq && apt-get install -y -qq --no-install-recommends tzdata) > /dev/null
	fi
	if [ ! -x /usr/lib/postgresql/*/bin/postgres ] && ! command -v postgres > /dev/null; then
	  printf '\n== Installing PostgreSQL from Debian\n'
	  (apt-get update -qq && apt-get install -y -qq --no-install-recommends postgresql) > /dev/null
	fi

check: build
	$(call say,Checking format and lint)
	dotnet tool restore > /dev/null
	(cd $(CONSOLE) && npm run --silent lint) &
	lint=$$!
	dotnet csharpier check . > /dev/null || (dotnet csharpier check . | tail -20; echo "run: make format"; exit 1)
	wait $$lint

# Everything as the formatters have it: CSharpier here, Prettier in the console.
format: $(CONSOLE)/node_modules/.stamp
	$(call say,Formatting)
	dotnet tool restore > /dev/null
	dotnet csharpier format .
	cd $(CONSOLE)
	npx --no-install prettier --log-level warn --write .

test: chromium check
	$(call say,Running the tests)
	bash tests/run

# Known weaknesses of packages: NuGet is asked with every restore, npm here, where its registry answers.
audit:
	$(call say,Asking for known weaknesses of packages)
	dotnet restore Vellumkeep.slnx --force -v quiet
	cd $(CONSOLE)
	npm audit --omit=dev || echo "npm: weaknesses were found, or the registry does not answer to the question."

# The schema is made from the readers of the keepfile; a test holds the kept copy against them.
schema: dotnet
	dotnet $(OUT)/Vellumkeep.Service.dll schema > docs/keepfile.schema.json

# Our own words and the finding codes, made from the code; a test holds the stored copy against it.
glossary: dotnet
	dotnet $(OUT)/Vellumkeep.Service.dll glossary > docs/glossary.md

screenshots: chromium build
	$(call say,Making the pictures)
	dotnet tests/Pictures/bin/Release/net10.0/Vellumkeep.Pictures.dll

# The fleet that the product is built for, from a seed, in .fleet; PARTS=20 makes a twentieth of it.
fleet: dotnet
	$(call say,Making the fleet)
	dotnet bench/Bench/bin/Release/net10.0/Vellumkeep.Bench.dll fleet --parts $(PARTS)

# Ratios taken in one run; docs/performance.md keeps them.
bench: dotnet
	$(call say,Measuring)
	dotnet bench/Bench/bin/Release/net10.0/Vellumkeep.Bench.dll measure --parts $(PARTS)

# Random ends by the million: nothing that can be built may throw.
soak: dotnet
	$(call say,Rehearsing random ends)
	dotnet bench/Bench/bin/Release/net10.0/Vellumkeep.Bench.dll soak --count $(COUNT)

# Odd calls of another seed each time, for five minutes on either database.
fuzz: chromium dotnet
	$(call say,Asking the service what nobody means)
	VELLUMKEEP_FUZZ_SEED=$$RANDOM VELLUMKEEP_FUZZ_SECONDS=300 dotnet tests/EndToEnd/bin/Release/net10.0/Vellumkeep.EndToEnd.dll -noColor -diagnostics -method "*.Nothing_that_is_asked_is_the_services_failure"

# Alterations of one folder of the core, each held against the tests that reach it. Texts are left as they are. Not a
# part of `make test`: the report is in tests/Core.Tests/StrykerOutput.
mutants: dotnet
	$(call say,Altering $(FOLDER))
	dotnet tool restore > /dev/null
	cd tests/Core.Tests
	dotnet stryker --mutate "**/$(FOLDER)/**/*.cs"

# A power cut in the middle of people's writes, 200 times: nothing acknowledged may be lost.
kills: chromium dotnet
	$(call say,Killing the service while people write)
	VELLUMKEEP_KILLS=200 dotnet tests/EndToEnd/bin/Release/net10.0/Vellumkeep.EndToEnd.dll -noColor -diagnostics -method "*.Killed_at_random_*"

clean:
	git clean -fdXq
