"""Addresses of a shoot's days."""

from django.urls import path

from fotonomy.days.views import (
    arrange,
    dates,
    day,
    files,
    horizon,
    outline,
    places_and_scenes,
    weather,
)

urlpatterns = [
    path("<int:shoot_id>/day/", day.days, name="days"),
    path("<int:shoot_id>/day/<int:day_id>/", day.day_page, name="day"),
    path("<int:shoot_id>/day/<int:day_id>/step/<slug:way>/", day.day_step, name="day-step"),
    path("<int:shoot_id>/day/<int:day_id>/arrange/", arrange.day_arrange, name="day-arrange"),
    path("<int:shoot_id>/day/<int:day_id>/arrange/go/", arrange.arrange_go, name="arrange-go"),
    path("<int:shoot_id>/day/<int:day_id>/dates/", dates.dates, name="dates"),
    path("<int:shoot_id>/day/<int:day_id>/weather/", weather.weather_page, name="weather"),
    path(
        "<int:shoot_id>/day/<int:day_id>/weather/simulate/",
        weather.weather_simulate,
        name="weather-simulate",
    ),
    path(
        "<int:shoot_id>/day/<int:day_id>/weather/drop/", weather.weather_drop, name="weather-drop"
    ),
    path(
        "<int:shoot_id>/day/<int:day_id>/weather/report/",
        weather.weather_report,
        name="weather-report",
    ),
    path(
        "<int:shoot_id>/day/<int:day_id>/weather/import/",
        weather.weather_import,
        name="weather-import",
    ),
    path(
        "<int:shoot_id>/day/<int:day_id>/weather/weather.csv",
        weather.weather_file,
        name="weather-file",
    ),
    path("<int:shoot_id>/places/", places_and_scenes.places, name="places"),
    path("<int:shoot_id>/places/<int:place_id>/horizon/", horizon.horizon_page, name="horizon"),
    path(
        "<int:shoot_id>/places/<int:place_id>/horizon/import/",
        horizon.horizon_import,
        name="horizon-import",
    ),
    path(
        "<int:shoot_id>/places/<int:place_id>/horizon/horizon.csv",
        horizon.horizon_file,
        name="horizon-file",
    ),
    path("<int:shoot_id>/places/import/", files.places_import, name="places-import"),
    path("<int:shoot_id>/places/places.<slug:form>", files.places_file, name="places-file"),
    path("<int:shoot_id>/outlines/import/", files.outlines_import, name="outlines-import"),
    path(
        "<int:shoot_id>/outlines/<int:outline_id>.geojson",
        files.outlines_file,
        name="outlines-file",
    ),
    path(
        "<int:shoot_id>/outlines/<int:outline_id>/delete/",
        files.outline_delete,
        name="outline-delete",
    ),
    path("<int:shoot_id>/day/schedule.ics", files.schedule, name="schedule"),
    path("<int:shoot_id>/day/schedule/import/", files.schedule_import, name="schedule-import"),
    path("<int:shoot_id>/parts/<slug:sort>/new/", places_and_scenes.part_new, name="part-new"),
    path(
        "<int:shoot_id>/parts/<slug:sort>/<int:part_id>/",
        places_and_scenes.part_edit,
        name="part-edit",
    ),
    path(
        "<int:shoot_id>/parts/<slug:sort>/<int:part_id>/delete/",
        places_and_scenes.part_delete,
        name="part-delete",
    ),
    path("<int:shoot_id>/parts/outline/", outline.outline, name="outline"),
    path("<int:shoot_id>/ways/", places_and_scenes.ways, name="ways"),
    path(
        "<int:shoot_id>/places/<int:place_id>/metered/", places_and_scenes.metered, name="metered"
    ),
]
