"""Every router of the application, in one list."""

from vadum.web.api import attachments, cylinders, documentation, history, preparation, reducing, results, uncertainty
from vadum.web.pages.archives import routes as archives
from vadum.web.pages.board import routes as board
from vadum.web.pages.competence import routes as competence
from vadum.web.pages.densities import routes as densities
from vadum.web.pages.duplicates import routes as duplicates
from vadum.web.pages.equipment import routes as equipment
from vadum.web.pages.guide import routes as guide
from vadum.web.pages.imports import routes as imports
from vadum.web.pages.infiltration import routes as infiltration
from vadum.web.pages.instruments import routes as instruments
from vadum.web.pages.letterhead import routes as letterhead
from vadum.web.pages.location import routes as location
from vadum.web.pages.pack import routes as pack
from vadum.web.pages.people import routes as people
from vadum.web.pages.piece import routes as piece
from vadum.web.pages.places import routes as places
from vadum.web.pages.plan import routes as plan
from vadum.web.pages.positions import routes as positions
from vadum.web.pages.practice import routes as practice
from vadum.web.pages.presets import routes as presets
from vadum.web.pages.reports import routes as reports
from vadum.web.pages.schedule import routes as schedule
from vadum.web.pages.search import routes as search
from vadum.web.pages.sheet import routes as sheet
from vadum.web.pages.start import routes as start
from vadum.web.pages.summary import routes as summary
from vadum.web.pages.tins import routes as tins
from vadum.web.pages.transfer import routes as transfer
from vadum.web.pages.worksheet import routes as worksheet

ROUTERS = tuple(
    module.router
    for module in (
        worksheet,  # what every key on a sheet asks for is found first
        start,
        places,
        location,
        schedule,
        sheet,
        attachments,
        equipment,
        tins,
        duplicates,
        documentation,
        reducing,
        results,
        preparation,
        cylinders,
        imports,
        board,
        plan,
        positions,
        densities,
        infiltration,
        instruments,
        practice,
        people,
        competence,
        pack,
        history,
        search,
        piece,
        archives,
        transfer,
        uncertainty,
        letterhead,
        presets,
        summary,
        reports,
        guide,
    )
)
