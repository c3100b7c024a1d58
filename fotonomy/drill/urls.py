"""Addresses of the drill."""

from django.urls import path

from fotonomy.drill.views import from_setup, pages

urlpatterns = [
    path("", pages.drill, name="drill"),
    path("start/", pages.start, name="drill-start"),
    path("next/", pages.go_on, name="drill-next"),
    path("done/", pages.done, name="drill-done"),
    path("ahead/", from_setup.ahead, name="drill-ahead"),
    path("send/", from_setup.send, name="drill-send"),
    path("lessons/<slug:key>/", pages.lesson, name="drill-lesson"),
    path(
        "lessons/<slug:key>/<int:at>/working/<str:name>/",
        pages.lesson_working,
        name="drill-lesson-working",
    ),
    path("take/<int:shoot_id>/<int:take_id>/", from_setup.of_take, name="drill-take"),
    path("take/<int:shoot_id>/<int:take_id>/look/", from_setup.take_look, name="drill-take-look"),
    path(
        "take/<int:shoot_id>/<int:take_id>/picture.jpg",
        from_setup.take_picture,
        name="drill-take-picture",
    ),
    path(
        "take/<int:shoot_id>/<int:take_id>/working/<str:name>/",
        from_setup.take_working,
        name="drill-take-working",
    ),
    path("of/<int:shoot_id>/<int:setup_id>/", from_setup.of_setup, name="drill-of"),
    path(
        "of/<int:shoot_id>/<int:setup_id>/<slug:kind>/<int:level>/<int:seed>/",
        from_setup.own,
        name="drill-own",
    ),
    path(
        "of/<int:shoot_id>/<int:setup_id>/<slug:kind>/<int:level>/<int:seed>/working/<str:name>/",
        from_setup.own_working,
        name="drill-own-working",
    ),
    path(
        "of/<int:shoot_id>/<int:setup_id>/<slug:kind>/<int:level>/<int:seed>/look/",
        from_setup.own_look,
        name="drill-own-look",
    ),
    path(
        "of/<int:shoot_id>/<int:setup_id>/<slug:kind>/<int:level>/<int:seed>/picture.jpg",
        from_setup.own_picture,
        name="drill-own-picture",
    ),
    path("<slug:kind>/", pages.one_kind, name="drill-kind"),
    path("<slug:kind>/<int:level>/<int:seed>/", pages.one_exercise, name="drill-exercise"),
    path("<slug:kind>/<int:level>/<int:seed>/look/", pages.look, name="drill-look"),
    path(
        "<slug:kind>/<int:level>/<int:seed>/picture.jpg", pages.shown_picture, name="drill-picture"
    ),
    path(
        "<slug:kind>/<int:level>/<int:seed>/working/<str:name>/",
        pages.drill_working,
        name="drill-working",
    ),
]
