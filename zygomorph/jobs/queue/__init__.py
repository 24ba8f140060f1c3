"""Deliveries as jobs that survive a crash.

A job is divided into units (:mod:`.work_unit`), frames as a rule, which the workers of a Dask
cluster make; their files are saved in the job's folder as they arrive. When all are there, this
process makes the product of them.

==========================  ===============================================================
:mod:`.orders`              what is to be made
:mod:`.kinds`               how many units that is, and how the product is made of them
:mod:`.folder`              a job on disk; :mod:`.active_job` while the program runs
:mod:`.queue`               adds, pauses, moves and removes jobs; the thread that runs them
:mod:`.dispatching`         which worker has which unit next; :mod:`.sending` submits it
:mod:`.receiving`           what becomes of a task's result
:mod:`.completing`          joins tiles and makes products aside, by :mod:`.finishing`
:mod:`.worker_tasks`        what Dask runs on workers; :mod:`.making` makes a unit's files
:mod:`.stepping`            states of systems, computed once; :mod:`.tiling` of large frames
:mod:`.trails`              trails in pictures; :mod:`.layer_sequences` and :mod:`.clip` of them
:mod:`.cluster`             the workers; :mod:`.connecting` reaches a scheduler
==========================  ===============================================================
"""
