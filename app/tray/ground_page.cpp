// The stop Ground: model of the ground, depth chart, springs, levels, limits.
#include <QFileDialog>
#include <QLabel>

#include "app/depth_view.h"
#include "app/tray/pages.h"
#include "app/tray/parts.h"

namespace mossbed {

std::string GroundPage::key() const {
    return std::string("ground ") + name_of(now().ground.model) + (now().ground.boreholes.empty() ? " bare" : "") +
           (has_slab(now()) ? "" : " alone");
}

void read_report_asked(Desk* desk, QWidget* parent) {
    const QString path = QFileDialog::getOpenFileName(parent, "Read a ground report", {},
                                                      "Ground reports (*.ags *.csv *.txt);;All files (*)");
    if (!path.isEmpty()) desk->read_report(path);
}

bool GroundPage::is_layered() const {
    return now().ground.model == GroundModel::profile || now().ground.model == GroundModel::coupled;
}

void GroundPage::build() {
    model_of_ground();
    if (!has_slab(now()))
        words("The ground can be set up before there is a slab; it is solved once one is drawn.");
    else if (!now().ground.boreholes.empty())
        depth_chart();
    springs();
    if (is_layered()) settlement();
    strata_and_boreholes();
    button("Read a ground report …", "read-report", [this] { read_report_asked(desk_, this); });
    if (has_slab(now())) what_it_changes();
    levels_and_water();
    limits();
    box_->addStretch(1);
}

void GroundPage::model_of_ground() {
    const GroundModel kind = now().ground.model;
    heading("Ground", name_of(kind));
    choice("ground/model", {.name = "ground-model", .deed = "Choose the ground model"},
           {"one modulus", "patches of modulus", "springs from strata", "coupled with strata"});
    switch (kind) {
        case GroundModel::uniform:
            words("One modulus everywhere: no bowl, and the rim as soft as the middle.");
            break;
        case GroundModel::patches:
            words("A modulus by plan area, from the file; the one below holds elsewhere.");
            break;
        case GroundModel::profile:
            words(
                "Each point's modulus from the settlement of the strata below it under the mean pressure on the whole "
                "base: one pass.");
            break;
        case GroundModel::coupled:
            words("Contact pressures and the settlement of the strata fit each other at every patch of the base.");
            break;
    }
    if (is_layered()) result([this] { return state(); }, "ground-state", 3);
}

QString GroundPage::state() const {
    const CombinationAnswer* c = desk_->combination();
    if (!c || !answer()->ground) return {};
    const Subsoil& below = *answer()->stages.subsoil;
    QString t = QString("Springs by %1: %2 kPa on the base, strata count down to %3 m.")
                    .arg(q(below.combination), look::number(below.pressure, 0),
                         look::number(below.ground->layers->limit().level, 1));
    if (std::isfinite(c->compatibility))
        t += QString(" Slab and ground differ by at most %1 of the settlement.")
                 .arg(QString::number(c->compatibility, 'e', 1));
    return t;
}

namespace {

QString place_of(const DepthChart& c, bool pinned) {
    return QString("At (%1, %2), %3%4: the ground settles <b>%5 mm</b> under %6 kPa.")
        .arg(look::number(c.at.x, 2), look::number(c.at.y, 2), q(c.combination), pinned ? ", pinned" : "",
             look::number(1000 * c.settlement, 1), look::number(c.contact, 0));
}

QString numbers_of(const DepthChart& c) {
    QString t = "<table cellspacing='0' cellpadding='1'>";
    for (const auto& l : c.layers)
        t += QString(
                 "<tr><td>%1</td><td align='right'>&nbsp;&nbsp;%2 m</td><td align='right'>&nbsp;&nbsp;%3 mm</td>"
                 "<td align='right'>&nbsp;&nbsp;%4 %</td><td align='right'>&nbsp;&nbsp;%5</td></tr>")
                 .arg(q(l.stratum), look::number(l.top - l.bottom, 2), look::number(1000 * l.settlement, 1),
                      look::number(100 * l.share, 0),
                      l.years_to_90 ? "90 % in " + look::number(*l.years_to_90, 1) + " a" : "");
    t += "</table>";
    QStringList times;
    for (const auto& k : c.times)
        times << QString("%1 mm after %2 a").arg(look::number(1000 * k.settlement, 1), plain(k.years));
    return times.isEmpty() ? t : t + "<p>Consolidated: " + times.join(", ") + ".</p>";
}

}  // namespace

void GroundPage::depth_chart() {
    heading("Depth chart");
    auto label = [](const char* name) {
        auto* l = new QLabel;
        l->setObjectName(name);
        l->setTextFormat(Qt::RichText);
        l->setWordWrap(true);
        return l;
    };
    QLabel *place = label("depth-place"), *numbers = label("depth-numbers");
    auto* chart = new DepthView(desk_);
    box_->addWidget(place);
    box_->addWidget(chart);
    box_->addWidget(numbers);
    auto fill = [this, numbers, place, chart] {
        const auto& c = chart->shown();
        place->setVisible(c.has_value());
        if (c) place->setText(place_of(*c, desk_->pin.has_value()));
        numbers->setText(c ? numbers_of(*c) : "");
        for (QLabel* l : {place, numbers}) fade(l, desk_->is_old());
    };
    connect(chart, &DepthView::renewed, numbers, fill);
    fill();
    words("A click on the slab pins the point, one beside it lets go.");
}

void GroundPage::springs() {
    heading("Springs");
    field("ground/modulus", {.label = is_layered() ? "Modulus, if uniform" : "Modulus of reaction"});
    field("ground/allowable_pressure");
    live(
        [this] {
            QStringList parts;
            for (const Row& r : desk_->rows())
                if (r.id == "resistance") parts << q(r.item) + ": " + q(r.note);
            return parts.isEmpty() ? QString() : "By the strata's strengths: " + parts.join(" ");
        },
        "resistance-text");
    choice("ground/allowable_is", {.deed = "Choose what the allowable pressure is"});
    field("ground/allowable_raised/wind");
    field("ground/allowable_raised/seismic");
    if (now().ground.model == GroundModel::uniform && has_slab(now())) modulus_helpers();
}

void GroundPage::take_modulus(double k, const QString& deed) {
    edit(deed, [&](Model& m) { find_field(m, "ground/modulus")->set_number(std::round(k)); });
}

double GroundPage::modulus_by_plate(PlateSoil soil) const {
    return modulus_from_plate(plate_modulus_, standard_plate, now(), soil);
}

void GroundPage::modulus_helpers() {
    words("From a bearing value:");
    button("allowable pressure over settlement limit", "modulus-by-settlement",
           [this] { take_modulus(modulus_by_settlement(now()).modulus, "Modulus from pressure over settlement"); });
    live(
        [this] {
            const ModulusProposal p = modulus_by_settlement(now());
            return QString("%1 kPa / %2 mm = <b>%3 kN/m³</b>; assumes that the whole slab settles so much under it.")
                .arg(look::number(now().ground.allowable_pressure, 0), look::number(1000 * p.from, 0),
                     look::number(p.modulus, 0));
        },
        "modulus-by-settlement-text");
    button("40 × safety × allowable pressure", "modulus-by-bearing", [this] {
        const ModulusProposal p = modulus_by_bearing(now());
        take_modulus(p.modulus, QString("Modulus from 40 × %1 × allowable pressure").arg(plain(p.from)));
    });
    live(
        [this] {
            const ModulusProposal p = modulus_by_bearing(now());
            return QString(
                       "40 × %1 × %2 = <b>%3 kN/m³</b>; assumes 25 mm at the ultimate pressure, safety %1 (Bowles). "
                       "Footings; a wide slab settles more.")
                .arg(plain(p.from), look::number(now().ground.allowable_pressure, 0), look::number(p.modulus, 0));
        },
        "modulus-by-bearing-text");
    auto* k = new Field("Plate test, 0.3 m plate", Unit::kilonewton_per_cubic_metre, "plate-modulus");
    k->show_value(plate_modulus_, false);
    box_->addWidget(k);
    connect(k, &Field::entered, this, [this](std::optional<double> v) {
        plate_modulus_ = v.value_or(plate_modulus_);
        refresh();
    });
    button("take it for sand", "modulus-by-plate-sand",
           [this] { take_modulus(modulus_by_plate(PlateSoil::sand), "Modulus from a plate test on sand"); });
    button("take it for clay", "modulus-by-plate-clay",
           [this] { take_modulus(modulus_by_plate(PlateSoil::clay), "Modulus from a plate test on clay"); });
    live(
        [this] {
            return QString(
                       "For this slab <b>%1 kN/m³</b> on sand, <b>%2 kN/m³</b> on clay (Terzaghi 1955); assumes the "
                       "same "
                       "soil to a depth of the slab's width.")
                .arg(look::number(modulus_by_plate(PlateSoil::sand), 0),
                     look::number(modulus_by_plate(PlateSoil::clay), 0));
        },
        "modulus-by-plate-text");
}

void GroundPage::settlement() {
    choice("ground/settlement_method", {.deed = "Choose the settlement method"});
    live(
        [this] {
            return now().ground.settlement_method == SettlementMethod::elastic
                       ? QString(
                             "Layer by layer in a half-space; under a thin wide layer it gives (1 − ν) of the confined "
                             "compression.")
                       : QString(
                             "Confined strain under Boussinesq's stress; by compression index where a stratum has "
                             "one.");
        },
        "method-note");
    tick("ground/excavation_relief", {.deed = "Excavation relief"});
    field("ground/rigid_base_level", {.name = "rigid-base"});
    field("ground/depth_limit_ratio", {.name = "depth-limit"});
}

void GroundPage::what_it_changes() {
    heading("What the ground changes");
    button("Compare the ground models", "compare-grounds", [this] { desk_->compare_grounds(); });
    live([this] { return desk_->comparison_report; }, "comparison-report");
    button("Ground half and twice as stiff", "bracket-ground", [this] { desk_->bracket_ground(); });
    live([this] { return desk_->bracket_report; }, "bracket-report");
}

void GroundPage::levels_and_water() {
    heading("Levels and water");
    for (const char* level : {"ground/founding_level", "ground/ground_level", "ground/water_level"}) field(level);
    words("Empty levels come from the boreholes, the founding level from the slab's underside.");
    field("ground/yield_pressure");
    tick("ground/tension", {.deed = "Let the ground pull"});
}

void GroundPage::limits() {
    heading("Limits");
    for (const char* limit : {"checks/settlement_limit", "checks/distortion_limit", "checks/tilt_limit"})
        field(limit, {.deed = QString("Set the %1").arg(QString(limit).section('/', 1).replace('_', ' '))});
    field("checks/contact_ratio_limit", {.name = "contact-limit", .deed = "Set the least contact ratio"});
    heading("Stability and resistance");
    field("ground/friction_angle_base", {.name = "base-friction"});
    field("ground/adhesion_base", {.name = "base-adhesion"});
    for (const char* factor : {"checks/sliding_factor", "checks/overturning_factor", "checks/flotation_factor"})
        field(factor, {.deed = QString("Set the %1").arg(QString(factor).section('/', 1).replace('_', ' '))});
    words("These factors hold for stability combinations of global safety; by partial factors 1.0 is to be reached.");
    choice("ground/resistance/approach", {.deed = "Choose the safety of the resistance"});
    field("ground/resistance/factor");
    words(
        "Bearing resistance follows where the strata have strengths (cu, φ′, c′); left empty, its "
        "safety goes with the combinations.");
}

}  // namespace mossbed
