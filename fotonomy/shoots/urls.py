"""Addresses of shoots and setups."""

from django.urls import path

from fotonomy.shoots.views import bench as views
from fotonomy.shoots.views import dry_run as run_views
from fotonomy.shoots.views import gear as gear_views
from fotonomy.shoots.views import monitor as monitor_views
from fotonomy.shoots.views import planner as planner_views

urlpatterns = [
    path("", views.shoot_list, name="shoot-list"),
    path("new/", views.shoot_new, name="shoot-new"),
    path("<int:shoot_id>/", views.shoot_open, name="shoot"),
    path("<int:shoot_id>/edit/", views.shoot_edit, name="shoot-edit"),
    path("<int:shoot_id>/delete/", views.shoot_delete, name="shoot-delete"),
    path("<int:shoot_id>/setups/new/", views.setup_new, name="setup-new"),
    path("<int:shoot_id>/setups/import/", views.setup_import, name="setup-import"),
    path("<int:shoot_id>/setups/order/", views.setup_order, name="setup-order"),
    path("<int:shoot_id>/undo/", views.undo, name="undo"),
    path("<int:shoot_id>/redo/", views.redo, name="redo"),
    path("<int:shoot_id>/<int:setup_id>/", views.bench, name="bench"),
    path("<int:shoot_id>/<int:setup_id>/copy/", views.setup_copy, name="setup-copy"),
    path("<int:shoot_id>/<int:setup_id>/delete/", views.setup_delete, name="setup-delete"),
    path("<int:shoot_id>/<int:setup_id>/move/", views.setup_move, name="setup-move"),
    path("<int:shoot_id>/<int:setup_id>/setup.json", views.setup_export, name="setup-export"),
    path("<int:shoot_id>/<int:setup_id>/plan.json", views.plan_export, name="plan-export"),
    path("<int:shoot_id>/packing/", gear_views.packing, name="packing"),
    path("<int:shoot_id>/compare/", planner_views.compare, name="compare"),
    path("<int:shoot_id>/<int:setup_id>/plans/", planner_views.plans, name="plans"),
    path("<int:shoot_id>/<int:setup_id>/start/", planner_views.setup_start, name="setup-start"),
    path("<int:shoot_id>/<int:setup_id>/play/", planner_views.play, name="play"),
    path("<int:shoot_id>/<int:setup_id>/dry-run/", run_views.dry_run, name="dry-run"),
    path("<int:shoot_id>/<int:setup_id>/dry-run/go/", run_views.dry_run_go, name="dry-run-go"),
    path("<int:shoot_id>/<int:setup_id>/dry-run.csv", run_views.dry_run_csv, name="dry-run-csv"),
    path("<int:shoot_id>/<int:setup_id>/program/", run_views.program, name="program"),
    path("<int:shoot_id>/<int:setup_id>/level/", monitor_views.level, name="level"),
    path("<int:shoot_id>/<int:setup_id>/monitor/", monitor_views.monitor, name="monitor"),
    path(
        "<int:shoot_id>/<int:setup_id>/monitor/<slug:view>.jpg",
        monitor_views.monitor_picture,
        name="monitor-picture",
    ),
    path(
        "<int:shoot_id>/<int:setup_id>/take-settings/",
        planner_views.settings_copy,
        name="settings-copy",
    ),
]
