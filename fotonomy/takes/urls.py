"""Addresses of what was shot."""

from django.urls import path

from fotonomy.takes.views import actual, burst, frame, home, row, run, teaching

urlpatterns = [
    path("<int:shoot_id>/takes/", actual.actual, name="actual"),
    path("<int:shoot_id>/takes/actual.csv", actual.actual_csv, name="actual-csv"),
    path("<int:shoot_id>/takes/home/", home.home_page, name="takes-home"),
    path("<int:shoot_id>/takes/home/add/", home.home_add, name="home-add"),
    path("<int:shoot_id>/takes/home/match/", home.home_match, name="home-match"),
    path("<int:shoot_id>/takes/home/put/", home.home_put, name="home-put"),
    path("<int:shoot_id>/takes/home/drop/", home.home_drop, name="home-drop"),
    path("<int:shoot_id>/takes/teaching/", teaching.teaching_page, name="teaching"),
    path("<int:shoot_id>/takes/teaching/take/", teaching.teaching_take, name="teaching-take"),
    path("<int:shoot_id>/takes/setup/<int:setup_id>/", row.setup_takes, name="setup-takes"),
    path("<int:shoot_id>/takes/row/", row.row_page, name="row"),
    path("<int:shoot_id>/takes/row/keep/", row.row_keep, name="row-keep"),
    path("<int:shoot_id>/takes/<int:take_id>/burst/", burst.burst_page, name="burst"),
    path("<int:shoot_id>/takes/<int:take_id>/burst/keep/", burst.burst_keep, name="burst-keep"),
    path("<int:shoot_id>/takes/<int:take_id>/run/", run.run_page, name="run"),
    path("<int:shoot_id>/takes/<int:take_id>/run/see/", run.run_see, name="run-see"),
    path("<int:shoot_id>/takes/<int:take_id>/run.csv", run.run_csv, name="run-csv"),
    path("<int:shoot_id>/takes/picture/<int:picture_id>/", frame.frame_page, name="frame-levels"),
]
