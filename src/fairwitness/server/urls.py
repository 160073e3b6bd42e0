"""Every address. What is not under ``api/`` is the interface, which routes itself."""

from __future__ import annotations

from django.conf import settings
from django.http import FileResponse, HttpRequest, HttpResponse, HttpResponseNotFound
from django.urls import path, re_path
from django.views.decorators.csrf import ensure_csrf_cookie
from drf_spectacular.views import SpectacularAPIView

from fairwitness.server.accounts import own_api as own
from fairwitness.server.accounts import people_api
from fairwitness.server.accounts.api import SessionView, UnitsView
from fairwitness.server.bench import api as bench
from fairwitness.server.calculators import api as calculators
from fairwitness.server.captures import api as captures
from fairwitness.server.captures import shelf_api as shelf
from fairwitness.server.captures import views
from fairwitness.server.cases import api as cases
from fairwitness.server.cases import engine_api, life_api, visit_api
from fairwitness.server.cases.vocabulary import VocabularyView
from fairwitness.server.decisions.api import DecisionView
from fairwitness.server.engines import api as engines
from fairwitness.server.imports import api as imports
from fairwitness.server.keeping import api as keeping
from fairwitness.server.learning import api as learning
from fairwitness.server.pictures import api as pictures
from fairwitness.server.prices import api as prices
from fairwitness.server.problems import not_found
from fairwitness.server.sheets import api as sheets
from fairwitness.server.sheets import shared
from fairwitness.server.trust.api import TrustView


@ensure_csrf_cookie
def interface(request: HttpRequest) -> HttpResponse | FileResponse:
    """The page the interface lives in."""
    page = settings.WEB_DIST / "index.html"
    if not page.is_file():
        return HttpResponseNotFound("The interface is not built. Run make build.", content_type="text/plain")
    answer = FileResponse(page.open("rb"), content_type="text/html")
    answer["Cache-Control"] = "no-cache"
    return answer


urlpatterns = [
    path("api/session/", SessionView.as_view()),
    path("api/session/units/", UnitsView.as_view()),
    path("api/session/password/", own.OwnPasswordView.as_view()),
    path("api/session/code/", own.OwnCodeView.as_view()),
    path("api/session/switch/", own.SwitchView.as_view()),
    path("api/session/places/", own.OwnSessionsView.as_view()),
    path("api/session/places/<slug:session_id>/", own.OwnSessionView.as_view()),
    path("api/link/", own.LinkView.as_view()),
    path("api/link/password/", own.SpendLinkView.as_view()),
    path("api/first-lead/", own.FirstLeadView.as_view()),
    path("api/people/", people_api.PeopleView.as_view()),
    path("api/people/<int:person_id>/", people_api.PersonView.as_view()),
    path("api/people/<int:person_id>/link/", people_api.PersonLinkView.as_view()),
    path("api/people/<int:person_id>/sessions/", people_api.PersonSessionsView.as_view()),
    path("api/cases/", cases.CasesView.as_view()),
    path("api/cases/import/", captures.PackageImportView.as_view()),
    path("api/cases/<int:case_id>/", cases.BoardView.as_view()),
    path("api/cases/<int:case_id>/fuel/", cases.FuelView.as_view()),
    path("api/cases/<int:case_id>/happening/", cases.HappeningView.as_view()),
    path("api/cases/<int:case_id>/approach/", cases.ApproachView.as_view()),
    path("api/cases/<int:case_id>/access/", cases.AccessView.as_view()),
    path("api/cases/<int:case_id>/imagine/", cases.ImagineView.as_view()),
    path("api/cases/<int:case_id>/close/", life_api.CloseView.as_view()),
    path("api/cases/<int:case_id>/reopen/", life_api.ReopenView.as_view()),
    path("api/cases/<int:case_id>/work/", life_api.WorkView.as_view()),
    path("api/cases/<int:case_id>/outcome/", life_api.OutcomeView.as_view()),
    path("api/cases/<int:case_id>/said/", visit_api.SaidView.as_view()),
    path("api/cases/<int:case_id>/tried/", visit_api.TriedView.as_view()),
    path("api/cases/<int:case_id>/codes/", visit_api.CodesReadView.as_view()),
    path("api/cases/<int:case_id>/codes/cleared/", visit_api.CodesClearedView.as_view()),
    path("api/cases/<int:case_id>/clock/", visit_api.ClockView.as_view()),
    path("api/cases/<int:case_id>/parts/", visit_api.PartsView.as_view()),
    path("api/cases/<int:case_id>/follow-ups/", life_api.FollowUpsView.as_view()),
    path("api/cases/<int:case_id>/replay/", life_api.ReplayView.as_view()),
    path("api/cases/<int:case_id>/replay/<int:step>/", life_api.ReplayStepView.as_view()),
    path("api/cases/<int:case_id>/sheet/", sheets.SheetView.as_view()),
    path("api/cases/<int:case_id>/sheet.pdf", sheets.SheetPdfView.as_view()),
    path("api/cases/<int:case_id>/sheet/about/", sheets.SheetAboutView.as_view()),
    path("api/cases/<int:case_id>/sheet/shown/", sheets.SheetShownView.as_view()),
    path("api/cases/<int:case_id>/sheet/links/", sheets.SheetLinksView.as_view()),
    path("api/sheet-links/<int:link_id>/revoke/", sheets.SheetLinkRevokeView.as_view()),
    path("api/captures/<int:capture_id>/figures/", sheets.TraceFiguresView.as_view()),
    path("api/figures/<int:figure_id>/withdraw/", sheets.TraceFigureWithdrawView.as_view()),
    path("api/workshop/", sheets.WorkshopView.as_view()),
    path("api/workshop/logo/", sheets.LogoView.as_view()),
    path("shared/<str:secret>/", shared.SharedView.as_view()),
    path("shared/<str:secret>/sheet.pdf", shared.SharedPdfView.as_view()),
    path("api/vehicles/", visit_api.VehiclesView.as_view()),
    path("api/vehicles/<int:vehicle_id>/", visit_api.VehicleView.as_view()),
    path("api/outcomes/", life_api.OutcomesView.as_view()),
    path("api/follow-ups/", life_api.DueView.as_view()),
    path("api/follow-ups/<int:follow_up_id>/", life_api.FollowUpView.as_view()),
    path("api/cases/<int:case_id>/observations/", cases.ObservationsView.as_view()),
    path("api/cases/<int:case_id>/forms/", cases.FormsView.as_view()),
    path("api/cases/<int:case_id>/forms/<slug:test>/", cases.FormView.as_view()),
    path("api/cases/<int:case_id>/imports/", imports.ImportsView.as_view()),
    path("api/cases/<int:case_id>/options/", prices.OptionsView.as_view()),
    path("api/prices/", prices.PricesView.as_view()),
    path("api/cases/<int:case_id>/decision/", DecisionView.as_view()),
    path("api/cases/<int:case_id>/pictures/", pictures.PicturesView.as_view()),
    path("api/pictures/<int:picture_id>/file/", pictures.PictureFileView.as_view()),
    path("api/pictures/<int:picture_id>/thumb/", pictures.PictureThumbView.as_view()),
    path("api/pictures/<int:picture_id>/marks/", pictures.MarksView.as_view()),
    path("api/pictures/<int:picture_id>/withdraw/", pictures.PictureWithdrawView.as_view()),
    path("api/cases/<int:case_id>/package/", captures.PackageExportView.as_view()),
    path("api/observations/<int:observation_id>/withdraw/", cases.ObservationWithdrawView.as_view()),
    path("api/imports/<int:import_id>/", imports.ImportView.as_view()),
    path("api/imports/<int:import_id>/file/", imports.PieceView.as_view()),
    path("api/imports/<int:import_id>/look/", imports.LookView.as_view()),
    path("api/imports/<int:import_id>/keep/", imports.KeepFileView.as_view()),
    path("api/captures/<int:capture_id>/", captures.CaptureView.as_view()),
    path("api/captures/<int:capture_id>/withdraw/", captures.CaptureWithdrawView.as_view()),
    path("api/captures/<int:capture_id>/window/", views.WindowView.as_view()),
    path("api/captures/<int:capture_id>/export/", captures.CaptureExportView.as_view()),
    path("api/captures/<int:capture_id>/comparable/", captures.ComparableView.as_view()),
    path("api/captures/<int:capture_id>/known-good/", captures.KnownGoodView.as_view()),
    path("api/captures/<int:capture_id>/beside/", shelf.BesideView.as_view()),
    path("api/known-goods/", shelf.ShelfView.as_view()),
    path("api/known-goods/package/", shelf.ShelfPackageView.as_view()),
    path("api/known-goods/practice/", shelf.ShelfPracticeView.as_view()),
    path("api/captures/<int:capture_id>/pressure/", views.PressureView.as_view()),
    path("api/captures/<int:capture_id>/cycles/", views.CyclesView.as_view()),
    path("api/captures/<int:capture_id>/fold/<int:position>/", views.FoldView.as_view()),
    path("api/captures/<int:capture_id>/reading/<int:position>/", views.ReadingView.as_view()),
    path("api/captures/<int:capture_id>/snap/<int:position>/", views.SnapView.as_view()),
    path("api/calculators/", calculators.CalculatorsView.as_view()),
    path("api/calculators/<slug:calculator>/", calculators.CalculatorView.as_view()),
    path("api/engines/", engine_api.EngineSuggestView.as_view()),
    path("api/engine-records/", engines.RecordsView.as_view()),
    path("api/engine-records/package/", engines.PackageView.as_view()),
    path("api/engine-records/<int:record_id>/", engines.RecordView.as_view()),
    path("api/engine-records/<int:record_id>/minutes/", engines.RecordMinutesView.as_view()),
    path("api/engines/check/", engine_api.EngineCheckView.as_view()),
    path("api/learned/", learning.LearnedView.as_view()),
    path("api/learned/switch/", learning.LearnedSwitchView.as_view()),
    path("api/learned/reset/", learning.FreshStartView.as_view()),
    path("api/learned/export.csv", learning.LearnedExportView.as_view()),
    path("api/own-figures/", learning.OwnFiguresView.as_view()),
    path("api/codes/", learning.CodesView.as_view()),
    path("api/codes/<int:code_id>/", learning.CodeView.as_view()),
    path("api/words/", VocabularyView.as_view()),
    path("api/trust/", TrustView.as_view()),
    path("api/bench/", bench.BenchView.as_view()),
    path("api/bench/choices/", bench.ChoicesView.as_view()),
    path("api/bench/vehicle/", bench.VehicleView.as_view()),
    path("api/bench/reveal/", bench.RevealView.as_view()),
    path("api/bench/scope/", bench.ScopeView.as_view()),
    path("api/bench/plug/", bench.PlugView.as_view()),
    path("api/bench/scan/", bench.ScanView.as_view()),
    path("api/bench/scan/codes/", bench.CodesView.as_view()),
    path("api/bench/scan/counts/", bench.CountsView.as_view()),
    path("api/bench/fuel/", bench.FuelView.as_view()),
    path("api/bench/engine/", bench.EngineView.as_view()),
    path("api/bench/set-up/", bench.SetUpView.as_view()),
    path("api/bench/go/", bench.GoView.as_view()),
    path("api/bench/watch/", bench.WatchView.as_view()),
    path("api/bench/stop/", bench.StopView.as_view()),
    path("api/bench/keep/", bench.KeepView.as_view()),
    path("api/bench/balance/", bench.BalanceView.as_view()),
    path("api/bench/balance/keep/", bench.BalanceKeepView.as_view()),
    path("api/bench/inbox/", bench.InboxView.as_view()),
    path("api/house/", keeping.HouseView.as_view()),
    path("health/alive/", keeping.alive),
    path("health/ready/", keeping.ready),
    path("api/schema/", SpectacularAPIView.as_view()),
    re_path(r"^api/", not_found),
    re_path(r"^(?!assets/).*$", interface),
]

handler400 = "fairwitness.server.problems.refused"
handler404 = "fairwitness.server.problems.not_found"
handler500 = "fairwitness.server.problems.broken"
