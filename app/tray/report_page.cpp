// A ground report that was read: what was understood, what becomes which stratum, and where it lies.
#include "app/tray/pages.h"
#include "app/tray/parts.h"

namespace mossbed {

void ReportPage::build() {
    heading("Ground report", desk_->taking->file);
    what_was_understood();
    const auto& holes = desk_->taking->report.holes;
    const auto placed = std::count_if(holes.begin(), holes.end(),
                                      [&](const ReportHole& h) { return reason_left_out(h, now()).empty(); });
    // Either gives way to the page of the ground.
    std::vector<Button> deeds;
    if (placed > 0)
        deeds.push_back({"Take over", "take-report", [this] {
                             QMetaObject::invokeMethod(
                                 desk_, [d = desk_] { d->take_report(); }, Qt::QueuedConnection);
                         }});
    deeds.push_back({"Leave it", "leave-report", [this] {
                         QMetaObject::invokeMethod(
                             desk_, [d = desk_] { d->leave_taking(); }, Qt::QueuedConnection);
                     }});
    if (placed == 0) words("No borehole can be taken from it.", nullptr, true);
    buttons(deeds);
    codes_table();
    words("Type the stratum that each code becomes: one that exists, or a new name. Two codes may become one stratum.");
    Placing& p = desk_->taking->placing;
    placing("Easting of the origin", Unit::metre, "report-east", &p.origin.x);
    placing("Northing of the origin", Unit::metre, "report-north", &p.origin.y);
    placing("+x from east, degrees", Unit::none, "report-turn", &p.turn);
    holes_table();
    if (const auto said = sentences_of(all_said(), Severity::warning); !said.empty()) {
        words("To know:");
        box_->addWidget(sentences(said, "report-warnings", 8));
    }
    box_->addStretch(1);
}

std::vector<Problem> ReportPage::all_said() const {
    const TakingReport& t = *desk_->taking;
    std::vector<Problem> said = t.report.problems;
    for (Problem& p : problems_of_taking(t.report, t.placing, desk_->now())) said.push_back(std::move(p));
    return said;
}

void ReportPage::what_was_understood() {
    const TakingReport& t = *desk_->taking;
    if (!t.report.project.empty()) words(q(t.report.project));
    int placed = 0, left = 0, blows = 0;
    for (const ReportHole& h : t.report.holes) {
        (reason_left_out(h, now()).empty() ? placed : left)++;
        blows += int(h.blows.size());
    }
    words(QString("Understood: %1 boreholes with layers%2, %3 geology codes, %4 blow counts.")
              .arg(placed)
              .arg(left ? QString(" (%1 left out)").arg(left) : QString())
              .arg(t.report.codes.size())
              .arg(blows),
          "report-summary");
    if (const auto left_out = sentences_of(all_said(), Severity::error); !left_out.empty()) {
        words("Not taken:", nullptr, true);
        box_->addWidget(sentences(left_out, "report-left-out", 7));
    }
}

void ReportPage::codes_table() {
    QTableWidget* t = table({"code", "holes", "thick m", "mean N", "stratum"}, "report-codes");
    t->horizontalHeader()->setDefaultSectionSize(54);
    t->setColumnWidth(0, 48);
    t->setColumnWidth(1, 40);
    t->setColumnWidth(2, 72);
    t->setColumnWidth(3, 52);
    t->horizontalHeader()->setStretchLastSection(true);
    t->horizontalHeaderItem(4)->setTextAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    refreshers_.push_back([this, t] {
        if (!desk_->taking) return;
        const auto& list = desk_->taking->report.codes;
        t->setRowCount(int(list.size()));
        for (int r = 0; r < int(list.size()); ++r) {
            const ReportCode& c = list[size_t(r)];
            cell(t, r, 0, q(c.code), false, false)->setToolTip(q(c.description));
            cell(t, r, 1, QString::number(c.holes), false);
            const QString least = look::number(c.thinnest, 1), most = look::number(c.thickest, 1);
            cell(t, r, 2, least == most ? most : least + " – " + most, false);
            cell(t, r, 3, c.mean_blows ? look::number(*c.mean_blows, 0) : "", false);
            cell(t, r, 4, q(desk_->taking->placing.stratum_of[c.code]), true, false);
        }
        fit_height(t);
    });
    connect(t, &QTableWidget::cellChanged, this, [this, t](int row, int column) {
        if (filling_ || column != 4 || !desk_->taking) return;
        desk_->taking->placing.stratum_of[desk_->taking->report.codes[size_t(row)].code] =
            t->item(row, column)->text().trimmed().toStdString();
    });
}

// Hole by hole: where it comes to stand on the plan, and what it brings.
void ReportPage::holes_table() {
    QTableWidget* t = table({"hole", "x m", "y m", "level m", "deep m", "layers"}, "report-holes");
    t->horizontalHeader()->setDefaultSectionSize(47);
    t->setColumnWidth(0, 60);
    t->horizontalHeader()->setStretchLastSection(true);
    refreshers_.push_back([this, t] {
        if (!desk_->taking) return;
        const auto& holes = desk_->taking->report.holes;
        t->setRowCount(int(holes.size()));
        for (int r = 0; r < int(holes.size()); ++r) {
            const ReportHole& h = holes[size_t(r)];
            const std::string why = reason_left_out(h, now());
            const auto at = h.at ? std::optional(place_of(*h.at, desk_->taking->placing)) : std::nullopt;
            const QString none = "–";
            const std::array texts{q(h.id),
                                   at ? look::number(at->x, 2) : none,
                                   at ? look::number(at->y, 2) : none,
                                   h.ground_level ? look::number(*h.ground_level, 2) : none,
                                   h.layers.empty() ? none : look::number(h.layers.back().base, 1),
                                   why.empty() ? QString::number(h.layers.size()) : "left out"};
            for (int c = 0; c < int(texts.size()); ++c) {
                QTableWidgetItem* i = cell(t, r, c, texts[size_t(c)], false, c > 0);
                i->setForeground(why.empty() ? look::ink : look::rust);
                i->setToolTip(q(why));
            }
        }
        fit_height(t);
    });
    words("The plan shows where they come to stand, as dashed rings.");
}

void ReportPage::placing(const QString& label, Unit unit, const QString& name, double* value) {
    auto* f = new Field(label, unit, name);
    f->show_value(*value, false);
    box_->addWidget(f);
    connect(f, &Field::entered, this, [this, value](std::optional<double> v) {
        if (desk_->taking && v) *value = *v, desk_->tell(Desk::view);
    });
}

}  // namespace mossbed
