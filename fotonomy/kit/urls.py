"""Addresses of the kit."""

from django.urls import path

from fotonomy.kit import views

urlpatterns = [
    path("", views.kit, name="kit"),
    path("<slug:sort>/new/", views.gear_new, name="gear-new"),
    path("<slug:sort>/<int:gear_id>/", views.gear_edit, name="gear-edit"),
    path("import/", views.kit_import, name="kit-import"),
    path("kit.json", views.kit_export, name="kit-export"),
]
