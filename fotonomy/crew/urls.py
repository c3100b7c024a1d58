"""Addresses of the crew of a shoot, and the one a link leads to."""

from django.urls import path

from fotonomy.crew.views import crew, join

urlpatterns = [
    path("shoots/<int:shoot_id>/crew/", crew.crew, name="crew"),
    path("shoots/<int:shoot_id>/crew/name/", crew.crew_name, name="crew-name"),
    path("shoots/<int:shoot_id>/crew/link/", crew.crew_link, name="crew-link"),
    path("shoots/<int:shoot_id>/crew/link/<int:link_id>/", crew.crew_qr, name="crew-qr"),
    path(
        "shoots/<int:shoot_id>/crew/withdraw/<slug:sort>/<int:which_id>/",
        crew.crew_withdraw,
        name="crew-withdraw",
    ),
    path("shoots/<int:shoot_id>/crew/again/<int:which_id>/", crew.crew_again, name="crew-again"),
    path("shoots/<int:shoot_id>/crew/remove/<int:which_id>/", crew.crew_remove, name="crew-remove"),
    path("join/<str:key>/", join.join_page, name="join"),
]
