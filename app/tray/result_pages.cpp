// Contact, shear, steel, sheets.
#include "app/tray/pages.h"
#include "app/tray/parts.h"

namespace mossbed {

void ContactPage::build() {
    heading("Contact");
    live([this] { return facts(); }, "contact-facts");
    words("Drag a rim or a corner of the slab: the pressures follow.");
    box_->addStretch(1);
}

QString ContactPage::facts() const {
    const CombinationAnswer* c = desk_->combination();
    if (!c) return "No answer yet.";
    const QString head = bold(q(c->combination.id)) +
                         (c->combination.title.empty() ? "" : " · " + q(c->combination.title)) + " · " +
                         QString(name_of(c->combination.purpose));
    if (!c->is_solved())
        return head + "<br>" + bold(QString::fromUtf8(name_of(c->ending))) + ": " + q(c->explanation).toHtmlEscaped();
    auto line = [](const QString& name, const QString& value) {
        return "<tr><td style='padding-right:14px'>" + name + "</td><td align='right'>" + value + "</td></tr>";
    };
    const auto [least, most] = range_of_settlement(*answer(), *c);
    QString t = head + "<table cellspacing='0' cellpadding='2'>";
    t += line("largest pressure", look::with_unit(c->max_pressure, "kPa"));
    if (c->yield_ratio > 0) t += line("base at the yield pressure", q(share_in_words(c->yield_ratio)));
    t += line("smallest pressure", look::with_unit(c->min_pressure, "kPa"));
    t += line("base in contact", look::number(100 * c->contact_ratio, 1) + " %");
    t += line("largest settlement", look::with_unit(1000 * most, "mm"));
    t += line("smallest settlement", look::with_unit(1000 * least, "mm"));
    t += line("all loads, down", look::with_unit(c->applied.Fz, "kN"));
    t += line("ground, up", look::with_unit(c->ground_reaction.Fz, "kN"));
    const Point landing = c->applied.landing();
    t +=
        line("they land at",
             c->applied.Fz > 0 ? QString("%1, %2 m").arg(look::number(landing.x, 2), look::number(landing.y, 2)) : "–");
    t += line("equilibrium error",
              c->equilibrium_error < 1e-15 ? "below 1e-15" : QString::number(c->equilibrium_error, 'e', 1));
    return t + "</table>";
}

void ShearPage::build() {
    heading("Punching", q(now().settings.design_code));
    live([this] { return uses(); }, "punching-table");
    words(
        "V comes down the column, relief pushes back inside the perimeter, both kN. The outlines in the plan are the "
        "governing perimeters.");
    box_->addStretch(1);
}

QString ShearPage::uses() const {
    auto right = [](const QString& s) { return "<td align='right'>" + s + "&nbsp;&nbsp;</td>"; };
    QString t = "<table cellspacing='0' cellpadding='2'><tr><td></td>" + right("use") + right("V") + right("relief") +
                right("β") + "</tr>";
    for (const Row& r : desk_->rows()) {
        if (r.id != "punching") continue;
        const QString use = r.utilisation ? look::number(*r.utilisation, 2) : "not checked";
        const bool behind = desk_->is_behind(r);  // frames while dragging do not work it out
        t += "<tr><td style='padding-right:10px'>" + q(r.item) + "</td>" +
             right(behind                                       ? faded(use)
                   : r.status == Status::over || !r.utilisation ? bold(use)
                                                                : use);
        if (behind) t += right(faded("–")) + right(faded("–")) + right(faded("–"));
        for (const PunchingAnswer& p : answer() ? answer()->punching : std::vector<PunchingAnswer>{})
            if (p.id == r.item)
                t += right(look::number(p.V, 0)) + right(look::number(p.relief, 0)) +
                     right(p.beta ? look::number(*p.beta, 2) : "–");
        t += "</tr>";
    }
    return t + "</table>";
}

void SteelPage::build() {
    heading("Base bars", q(now().steel.steel));
    words("Left empty, the least that passes is chosen from the sizes and spacings. mm.");
    tick("steel/twisting", {.deed = "Twisting"});
    for (Face f : {Face::bottom, Face::top})
        for (Direction d : {Direction::x, Direction::y}) bars(f, d);
    heading("Cover", "mm");
    field("steel/cover_top", {.deed = "Set the top cover"});
    field("steel/cover_bottom", {.deed = "Set the bottom cover"});
    box_->addStretch(1);
}

void SteelPage::bars(Face f, Direction d) {
    const QString shown = QString("%1 %2").arg(f == Face::top ? "Top" : "Bottom", name_of(d));
    live(
        [this, f, d, shown] {
            if (!answer() || answer()->coarse) return bold(shown);
            const ChosenBars& b = answer()->steel.base(f, d);
            if (b.diameter <= 0) return bold(shown);
            return bold(shown) + QString(" · ϕ%1 at %2 · %3 mm²/m · %4")
                                     .arg(look::number(b.diameter, 0), look::number(b.spacing, 0),
                                          look::number(b.area(), 0),
                                          b.chosen ? (b.fits ? "chosen" : "<b>nothing fits</b>") : "yours");
        },
        qPrintable(QString("bars-%1-%2").arg(name_of(f), name_of(d))));
    auto* pair = new QHBoxLayout;
    pair->setSpacing(10);
    for (bool diameter : {true, false}) {
        Field* one = bars_field(f, d, diameter);
        one->make_short();
        box_->removeWidget(one);
        pair->addWidget(one);
    }
    pair->addStretch(1);
    box_->addLayout(pair);
}

// The other of the two starts from what was chosen; emptied, both are left to the program again.
Field* SteelPage::bars_field(Face f, Direction d, bool diameter) {
    const QString which = QString("%1-%2").arg(name_of(f), name_of(d));
    auto* line = new Field(diameter ? "ϕ" : "at", Unit::millimetre, (diameter ? "bar-" : "spacing-") + which);
    const std::string of = "steel/base/" + std::string(name_of(f)) + "_" + name_of(d);
    line->set_range(range_of(find_field(now(), of + (diameter ? "/diameter" : "/spacing"))->facts));
    line->set_optional(true);
    box_->addWidget(line);
    refreshers_.push_back([this, line, f, d, diameter] {
        const Bars& b = now().steel.base(f, d);
        line->show_value(diameter ? b.diameter : b.spacing, false);
    });
    connect(line, &Field::entered, this, [this, f, d, diameter](std::optional<double> v) {
        const QString deed = QString("Set bars %1 %2").arg(name_of(f), name_of(d));
        const ChosenBars chosen = answer() ? answer()->steel.base(f, d) : ChosenBars{};
        edit(deed, [&](Model& m) {
            Bars& b = m.steel.base(f, d);
            if (!v) {
                b = {};
                return;
            }
            (diameter ? b.diameter : b.spacing) = v;
            if (!b.diameter) b.diameter = chosen.diameter > 0 ? chosen.diameter : m.steel.sizes.front();
            if (!b.spacing) b.spacing = chosen.spacing > 0 ? chosen.spacing : m.steel.spacings.back();
        });
    });
    return line;
}

void SheetsPage::build() {
    heading("Sheets");
    words(
        "Drawings and the calculation document are not built yet. The results file of the command line carries every "
        "number: mossbed-cli solve MODEL --out FILE.");
    box_->addStretch(1);
}

}  // namespace mossbed
