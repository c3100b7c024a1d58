"""Addresses of what was shot."""

from django.urls import path

from fotonomy.takes.views import actual, frame

urlpatterns = [
    path("<int:shoot_id>/takes/", actual.actual, name="actual"),
    path("<int:shoot_id>/takes/actual.csv", actual.actual_csv, name="actual-csv"),
    path("<int:shoot_id>/takes/picture/<int:picture_id>/", frame.frame_page, name="frame-levels"),
]
