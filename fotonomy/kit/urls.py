"""Addresses of the kit."""

from django.urls import path

from fotonomy.kit.views import calibration as calibrate_views
from fotonomy.kit.views import curves as curve_views
from fotonomy.kit.views import kit as views

urlpatterns = [
    path("", views.kit, name="kit"),
    path("curves/", curve_views.curves, name="curves"),
    path("profile/published/", curve_views.published, name="published"),
    path("profile/<int:gear_id>/curve.<slug:form>", curve_views.curve_export, name="curve-export"),
    path("body/<int:gear_id>/calibrate/", calibrate_views.calibrate, name="body-calibrate"),
    path("body/<int:gear_id>/frame.png", calibrate_views.frame, name="body-frame"),
    path("<slug:sort>/new/", views.gear_new, name="gear-new"),
    path("<slug:sort>/<int:gear_id>/", views.gear_edit, name="gear-edit"),
    path("import/", views.kit_import, name="kit-import"),
    path("undo/", views.kit_step, {"which": "undo"}, name="kit-undo"),
    path("redo/", views.kit_step, {"which": "redo"}, name="kit-redo"),
    path("kit.json", views.kit_export, name="kit-export"),
]
