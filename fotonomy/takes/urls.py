"""Addresses of what was shot."""

from django.urls import path

from fotonomy.takes.views import (
    actual,
    burst,
    contact_sheet,
    edit,
    frame,
    ingest,
    kit_suggestions,
    run,
)

urlpatterns = [
    path("<int:shoot_id>/takes/", actual.actual, name="actual"),
    path("<int:shoot_id>/takes/actual.csv", actual.actual_csv, name="actual-csv"),
    path("<int:shoot_id>/takes/home/", ingest.home_page, name="takes-home"),
    path("<int:shoot_id>/takes/home/add/", ingest.home_add, name="home-add"),
    path("<int:shoot_id>/takes/home/head/", ingest.home_head, name="home-head"),
    path("<int:shoot_id>/takes/home/body/", ingest.home_body, name="home-body"),
    path("<int:shoot_id>/takes/home/match/", ingest.home_match, name="home-match"),
    path("<int:shoot_id>/takes/home/back/", ingest.home_back, name="home-back"),
    path("<int:shoot_id>/takes/home/drop/", ingest.home_drop, name="home-drop"),
    path("<int:shoot_id>/takes/edit/", edit.edit_page, name="edit"),
    path("<int:shoot_id>/takes/edit/takes.<slug:suffix>", edit.edit_takes, name="edit-takes"),
    path("<int:shoot_id>/takes/edit/sidecars.zip", edit.edit_xmp, name="edit-xmp"),
    path("<int:shoot_id>/takes/edit/cuts.csv", edit.edit_cuts, name="edit-cuts"),
    path("<int:shoot_id>/takes/edit/report.pdf", edit.report_pdf, name="report-pdf"),
    path(
        "<int:shoot_id>/takes/<int:take_id>/frames.ffconcat", edit.edit_frames, name="edit-frames"
    ),
    path(
        "<int:shoot_id>/takes/setup/<int:setup_id>/night.cube", edit.edit_night, name="edit-night"
    ),
    path("<int:shoot_id>/takes/teaching/", kit_suggestions.teaching_page, name="teaching"),
    path(
        "<int:shoot_id>/takes/teaching/take/", kit_suggestions.teaching_take, name="teaching-take"
    ),
    path(
        "<int:shoot_id>/takes/setup/<int:setup_id>/", contact_sheet.setup_takes, name="setup-takes"
    ),
    path("<int:shoot_id>/takes/row/", contact_sheet.row_page, name="row"),
    path("<int:shoot_id>/takes/row/keep/", contact_sheet.row_keep, name="row-keep"),
    path("<int:shoot_id>/takes/<int:take_id>/burst/", burst.burst_page, name="burst"),
    path("<int:shoot_id>/takes/<int:take_id>/burst/keep/", burst.burst_keep, name="burst-keep"),
    path("<int:shoot_id>/takes/<int:take_id>/run/", run.run_page, name="run"),
    path("<int:shoot_id>/takes/<int:take_id>/run/see/", run.run_see, name="run-see"),
    path("<int:shoot_id>/takes/<int:take_id>/run/advice/", run.run_advice, name="run-advice"),
    path("<int:shoot_id>/takes/<int:take_id>/run.csv", run.run_csv, name="run-csv"),
    path("<int:shoot_id>/takes/picture/<int:picture_id>/", frame.frame_page, name="frame-levels"),
]
