#!/usr/bin/env bash
# Write the OpenAPI document and the TypeScript types made from it. A test says when they have drifted.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."
.venv/bin/python server/manage.py export_openapi_schema --api config.api.api --indent 1 --output web/openapi.json
.venv/bin/greylatch schema >docs/sheet.schema.json
cd web && npm run --silent types
