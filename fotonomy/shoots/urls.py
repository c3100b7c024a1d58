"""Addresses of shoots and setups."""

from django.urls import path

from fotonomy.shoots.views import (
    bench,
    dry_run,
    files,
    gear,
    monitor,
    planner,
    program,
    setups,
    shoots,
)

urlpatterns = [
    path("", shoots.shoot_list, name="shoot-list"),
    path("new/", shoots.shoot_new, name="shoot-new"),
    path("<int:shoot_id>/", shoots.shoot_open, name="shoot"),
    path("<int:shoot_id>/edit/", shoots.shoot_edit, name="shoot-edit"),
    path("<int:shoot_id>/delete/", shoots.shoot_delete, name="shoot-delete"),
    path("<int:shoot_id>/setups/new/", setups.setup_new, name="setup-new"),
    path("<int:shoot_id>/setups/import/", files.setup_import, name="setup-import"),
    path("<int:shoot_id>/setups/order/", setups.setup_order, name="setup-order"),
    path("<int:shoot_id>/undo/", bench.undo, name="undo"),
    path("<int:shoot_id>/redo/", bench.redo, name="redo"),
    path("<int:shoot_id>/<int:setup_id>/", bench.bench, name="bench"),
    path("<int:shoot_id>/<int:setup_id>/news/", bench.news, name="news"),
    path("<int:shoot_id>/<int:setup_id>/copy/", setups.setup_copy, name="setup-copy"),
    path("<int:shoot_id>/<int:setup_id>/delete/", setups.setup_delete, name="setup-delete"),
    path("<int:shoot_id>/<int:setup_id>/move/", setups.setup_move, name="setup-move"),
    path("<int:shoot_id>/<int:setup_id>/setup.json", files.setup_export, name="setup-export"),
    path("<int:shoot_id>/<int:setup_id>/plan.json", files.plan_export, name="plan-export"),
    path("<int:shoot_id>/packing/", gear.packing, name="packing"),
    path("<int:shoot_id>/compare/", planner.compare, name="compare"),
    path("<int:shoot_id>/<int:setup_id>/plans/", planner.plans, name="plans"),
    path("<int:shoot_id>/<int:setup_id>/start/", planner.setup_start, name="setup-start"),
    path("<int:shoot_id>/<int:setup_id>/play/", planner.play, name="play"),
    path("<int:shoot_id>/<int:setup_id>/dry-run/", dry_run.dry_run, name="dry-run"),
    path("<int:shoot_id>/<int:setup_id>/dry-run/go/", dry_run.dry_run_go, name="dry-run-go"),
    path("<int:shoot_id>/<int:setup_id>/dry-run.csv", dry_run.dry_run_csv, name="dry-run-csv"),
    path("<int:shoot_id>/<int:setup_id>/program/", program.program_to_carry, name="program"),
    path("<int:shoot_id>/<int:setup_id>/level/", monitor.level, name="level"),
    path("<int:shoot_id>/<int:setup_id>/monitor/", monitor.monitor, name="monitor"),
    path(
        "<int:shoot_id>/<int:setup_id>/monitor/<slug:view>.jpg",
        monitor.monitor_picture,
        name="monitor-picture",
    ),
    path(
        "<int:shoot_id>/<int:setup_id>/take-settings/",
        planner.settings_copy,
        name="settings-copy",
    ),
]
