"""Deliveries as jobs that survive a crash: cut into units, worked on by a cluster, kept in folders.

:mod:`.orders` says what is to be made and :mod:`.kinds` how; :mod:`.units` is what workers do;
:mod:`.folder` keeps a job; :mod:`.cluster` is who works; :mod:`.queue` brings them together.
"""
