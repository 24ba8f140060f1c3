"""What tests of the API do again and again: edits and addresses of frames of the sample study."""

ANGLE = "/pieces/p/recipe/s1/values/angle"
AMOUNT = "/pieces/p/recipe/s2/values/amount"


def set_value(path, value):
    return {"do": "set", "path": path, "value": value}


def edit(client, state, *operations, window="w1", revision=None):
    body = {
        "window": window,
        "revision": state["revision"] if revision is None else revision,
        "operations": list(operations),
    }
    return client.post(f"/api/studies/{state['id']}/edits", json=body)


def post(client, state, what, window="w1"):
    return client.post(f"/api/studies/{state['id']}/{what}", json={"window": window})


def frame_url(state, frame=0.0, **more):
    motion = state["motion"][0]
    query = {"key": motion["key"], "frame": frame} | more
    text = "&".join(f"{k}={v}" for k, v in query.items())
    return f"/api/studies/{state['id']}/pieces/{motion['id']}/frame?{text}"
