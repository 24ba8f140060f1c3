"""schemathesis throws generated requests at every route of the OpenAPI document."""

import tempfile
from pathlib import Path

import schemathesis
from hypothesis import HealthCheck, settings

from zygomorph.api.app import make_app
from zygomorph.api.service import Service

_FOLDER = tempfile.TemporaryDirectory()
_APP = make_app(Service(Path(_FOLDER.name)))
# A request takes longer than most examples: fewer of them, more where more are wanted of all tests.
EXAMPLES = settings.default.max_examples * 2 // 5
schema = schemathesis.openapi.from_wsgi("/api/openapi.json", _APP).exclude(path="/api/events")


@schema.parametrize()
@settings(
    max_examples=EXAMPLES,
    deadline=None,
    suppress_health_check=list(HealthCheck),
    derandomize=True,
)
def test_no_request_breaks_the_server(case):
    case.call_and_validate(checks=[schemathesis.checks.not_a_server_error])
