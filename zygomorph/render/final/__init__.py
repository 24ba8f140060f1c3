"""Final pictures: a study at a moment, drawn by path tracing.

:mod:`.collect` evaluates the study to plain arrays (:mod:`.things`), :mod:`.traced_scene` hands
them to Mitsuba, :mod:`.path_tracer` follows the light, :mod:`.noise_removal` and :mod:`.finish`
make a picture of it. :mod:`.picture` is where callers begin.
"""
