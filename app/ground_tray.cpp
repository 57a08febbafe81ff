// The Tray at the stop Ground: model of the ground, strata, boreholes, reports, the depth chart, comparisons.
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QVBoxLayout>

#include "app/depth_view.h"
#include "app/tray.h"
#include "app/tray_parts.h"
#include "core/ground/moduli.h"
#include "core/validate/validate.h"

namespace mossbed {
namespace {

std::optional<double> number_in(const QString& text) {
    bool ok = false;
    const double v = QString(text).replace(',', '.').toDouble(&ok);
    return ok ? std::optional(v) : std::nullopt;
}

}  // namespace

void Tray::build_ground() {
    if (desk_->taking) return build_taking();
    const GroundModel kind = desk_->now().ground.model;
    const bool layered = kind == GroundModel::profile || kind == GroundModel::coupled;
    heading("Ground", name_of(kind));
    choice<GroundModel>(
        "Ground model", "ground-model", "Choose the ground model", [](const Model& m) { return m.ground.model; },
        [](Model& m, GroundModel v) { m.ground.model = v, m.ground.keys["model"] = ""; },
        {"one modulus", "patches of modulus", "springs from strata", "coupled with strata"});
    if (kind == GroundModel::uniform) words("One modulus everywhere: no bowl, and the rim as soft as the middle.");
    if (kind == GroundModel::patches) words("A modulus by plan area, from the file; the one below holds elsewhere.");
    if (kind == GroundModel::profile)
        words(
            "Each point's modulus from the settlement of the strata below it under the mean pressure on the whole "
            "base: one pass.");
    if (kind == GroundModel::coupled)
        words("Contact pressures and the settlement of the strata fit each other at every patch of the base.");
    if (desk_->answer() && layered)
        live(
            [this]() -> QString {
                const CombinationAnswer* c = desk_->combination();
                if (!c || !desk_->answer()->ground) return "";
                const Subsoil& below = *desk_->answer()->stages.subsoil;
                QString t = QString("Springs by %1: %2 kPa on the base, strata count down to %3 m.")
                                .arg(QString::fromStdString(below.combination), look::number(below.pressure, 0),
                                     look::number(below.ground->layers->limit().level, 1));
                if (std::isfinite(c->compatibility))
                    t += QString(" Slab and ground differ by at most %1 of the settlement.")
                             .arg(QString::number(c->compatibility, 'e', 1));
                return t;
            },
            "ground-state");
    if (!desk_->now().ground.boreholes.empty()) {
        heading("Depth chart");
        auto* place = new QLabel;
        place->setObjectName("depth-place");
        place->setTextFormat(Qt::RichText);
        place->setWordWrap(true);
        box_->addWidget(place);
        auto* chart = new DepthView(desk_);
        box_->addWidget(chart);
        auto* numbers = new QLabel;
        numbers->setObjectName("depth-numbers");
        numbers->setTextFormat(Qt::RichText);
        numbers->setWordWrap(true);
        box_->addWidget(numbers);
        auto fill = [this, numbers, place, chart] {
            const auto& c = chart->shown();
            place->setVisible(c.has_value());
            if (!c) return numbers->setText("");
            place->setText(QString("At (%1, %2), %3%4: the ground settles <b>%5 mm</b> under %6 kPa.")
                               .arg(look::number(c->at.x, 2), look::number(c->at.y, 2),
                                    QString::fromStdString(c->combination), desk_->pin ? ", pinned" : "",
                                    look::number(1000 * c->settlement, 1), look::number(c->contact, 0)));
            QString t = "<table cellspacing='0' cellpadding='1'>";
            for (const auto& l : c->layers) {
                t +=
                    QString(
                        "<tr><td>%1</td><td align='right'>&nbsp;&nbsp;%2 m</td><td align='right'>&nbsp;&nbsp;%3 mm</td>"
                        "<td align='right'>&nbsp;&nbsp;%4 %</td><td align='right'>&nbsp;&nbsp;%5</td></tr>")
                        .arg(QString::fromStdString(l.stratum), look::number(l.top - l.bottom, 2),
                             look::number(1000 * l.settlement, 1), look::number(100 * l.share, 0),
                             l.years_to_90 ? "90 % in " + look::number(*l.years_to_90, 1) + " a" : "");
            }
            t += "</table>";
            QStringList times;
            for (const auto& k : c->times)
                times << QString("%1 mm after %2 a").arg(look::number(1000 * k.settlement, 1), plain(k.years));
            if (!times.isEmpty()) t += "<p>Consolidated: " + times.join(", ") + ".</p>";
            numbers->setText(t);
        };
        connect(chart, &DepthView::renewed, numbers, fill);
        fill();
        words("A click on the slab pins the point, one beside it lets go.");
    }
    heading("Springs");
    field(
        layered ? "Modulus, if uniform" : "Modulus of subgrade reaction", Dimension::modulus, "modulus",
        "Set the modulus of subgrade reaction", [](const Model& m) { return std::optional(m.ground.modulus); },
        [](Model& m, std::optional<double> v) { m.ground.modulus = *v, m.ground.keys["modulus"] = ""; },
        {0, 1e7, true, false, owned(&Model::ground, "modulus")});
    field(
        "Allowable pressure", Dimension::pressure, "allowable-pressure", "Set the allowable pressure",
        [](const Model& m) { return std::optional(m.ground.allowable_pressure); },
        [](Model& m, std::optional<double> v) {
            m.ground.allowable_pressure = *v, m.ground.keys["allowable_pressure"] = "";
        },
        {0, 1e5, true, false, owned(&Model::ground, "allowable_pressure")});
    if (kind == GroundModel::uniform) {
        auto take = [this](double k, const QString& deed) {
            Model m = desk_->now();
            m.ground.modulus = std::round(k), m.ground.keys["modulus"] = "";
            desk_->document()->apply(deed, std::move(m));
        };
        words("From a bearing value:");
        button("allowable pressure over settlement limit", "modulus-by-settlement", [this, take] {
            const Model& m = desk_->now();
            take(modulus_from_settlement(m.ground.allowable_pressure, m.checks.settlement_limit.value_or(0.05)),
                 "Modulus from pressure over settlement");
        });
        live(
            [this] {
                const Model& m = desk_->now();
                const double s = m.checks.settlement_limit.value_or(0.05);
                return QString(
                           "%1 kPa / %2 mm = <b>%3 MN/m³</b>; assumes that the whole slab settles so much under it.")
                    .arg(look::number(m.ground.allowable_pressure, 0), look::number(1000 * s, 0),
                         look::number(modulus_from_settlement(m.ground.allowable_pressure, s) / 1000, 1));
            },
            "modulus-by-settlement-text");
        button("40 × safety × allowable pressure", "modulus-by-bearing", [this, take] {
            take(modulus_from_bearing(desk_->now().ground.allowable_pressure, 3),
                 "Modulus from 40 × 3 × allowable pressure");
        });
        live(
            [this] {
                return QString(
                           "40 × 3 × %1 = <b>%2 MN/m³</b>; assumes 25 mm at the ultimate pressure, safety 3 (Bowles). "
                           "Footings; a wide slab settles more.")
                    .arg(look::number(desk_->now().ground.allowable_pressure, 0),
                         look::number(modulus_from_bearing(desk_->now().ground.allowable_pressure, 3) / 1000, 1));
            },
            "modulus-by-bearing-text");
        auto* row = new QHBoxLayout;
        auto* k = new Field("Plate test, 0.3 m plate", Dimension::modulus, "plate-modulus");
        k->show_value(plate_modulus_, false);
        row->addWidget(k);
        box_->addLayout(row);
        connect(k, &Field::entered, this, [this](std::optional<double> v) {
            plate_modulus_ = v.value_or(plate_modulus_);
            refresh();
        });
        auto by_plate = [this](PlateSoil soil) {
            const mossbed::Box b = box_of(outer_rim(desk_->now().slab.outline, 1.0));
            return modulus_from_plate(plate_modulus_, 0.3, std::min(b.width(), b.height()),
                                      std::max(b.width(), b.height()), soil);
        };
        button("take it for sand", "modulus-by-plate-sand",
               [by_plate, take] { take(by_plate(PlateSoil::sand), "Modulus from a plate test on sand"); });
        button("take it for clay", "modulus-by-plate-clay",
               [by_plate, take] { take(by_plate(PlateSoil::clay), "Modulus from a plate test on clay"); });
        live(
            [by_plate] {
                return QString(
                           "For this slab <b>%1 MN/m³</b> on sand, <b>%2 MN/m³</b> on clay (Terzaghi 1955); assumes "
                           "the "
                           "same soil to a depth of the slab's width.")
                    .arg(look::number(by_plate(PlateSoil::sand) / 1000, 1),
                         look::number(by_plate(PlateSoil::clay) / 1000, 2));
            },
            "modulus-by-plate-text");
    }
    if (layered) {
        choice<SettlementMethod>(
            "Settlement of strata", "settlement-method", "Choose the settlement method",
            [](const Model& m) { return m.ground.settlement_method; },
            [](Model& m, SettlementMethod v) { m.ground.settlement_method = v; });
        live(
            [this] {
                return desk_->now().ground.settlement_method == SettlementMethod::elastic
                           ? QString(
                                 "Layer by layer in a half-space; under a thin wide layer it gives (1 − ν) of the "
                                 "confined compression.")
                           : QString(
                                 "Confined strain under Boussinesq's stress; by compression index where a stratum has "
                                 "one.");
            },
            "method-note");
        tick(
            "Excavation relief: reload first", "excavation-relief", "Excavation relief",
            [](const Model& m) { return m.ground.excavation_relief; },
            [](Model& m, bool on) { m.ground.excavation_relief = on, m.ground.keys["excavation_relief"] = ""; });
        field(
            "Rigid base level, if any", Dimension::length, "rigid-base", "Set the rigid base level",
            [](const Model& m) { return m.ground.rigid_base_level; },
            [](Model& m, std::optional<double> v) { m.ground.rigid_base_level = v; }, {-1e4, 1e4, false, true, {}});
        field(
            "Depth-limit ratio", Dimension::none, "depth-limit", "Set the depth-limit ratio",
            [](const Model& m) { return std::optional(m.ground.depth_limit_ratio); },
            [](Model& m, std::optional<double> v) {
                m.ground.depth_limit_ratio = *v, m.ground.keys["depth_limit_ratio"] = "";
            },
            {0, 10, true, false, owned(&Model::ground, "depth_limit_ratio")});
    }
    heading("Strata");
    strata_table();
    heading("Boreholes");
    borehole_tables();
    button("Read a ground report …", "read-report", [this] {
        const QString path = QFileDialog::getOpenFileName(this, "Read a ground report", {},
                                                          "Ground reports (*.ags *.csv *.txt);;All files (*)");
        if (!path.isEmpty()) desk_->read_report(path);
    });
    heading("What the ground changes");
    button("Compare the ground models", "compare-grounds", [this] { desk_->compare_grounds(); });
    live([this] { return desk_->comparison_report; }, "comparison-report");
    button("Ground half and twice as stiff", "bracket-ground", [this] { desk_->bracket_ground(); });
    live([this] { return desk_->bracket_report; }, "bracket-report");
    heading("Levels and water");
    field(
        "Founding level", Dimension::length, "founding-level", "Set the founding level",
        [](const Model& m) { return m.ground.founding_level; },
        [](Model& m, std::optional<double> v) { m.ground.founding_level = v; }, {-1e4, 1e4, false, true, {}});
    field(
        "Ground level", Dimension::length, "ground-level", "Set the ground level",
        [](const Model& m) { return m.ground.ground_level; },
        [](Model& m, std::optional<double> v) { m.ground.ground_level = v; }, {-1e4, 1e4, false, true, {}});
    field(
        "Water level", Dimension::length, "water-level", "Set the water level",
        [](const Model& m) { return m.ground.water_level; },
        [](Model& m, std::optional<double> v) { m.ground.water_level = v; }, {-1e4, 1e4, false, true, {}});
    words("Empty levels come from the boreholes, the founding level from the slab's underside.");
    field(
        "Yield pressure, if any", Dimension::pressure, "yield-pressure", "Set the yield pressure",
        [](const Model& m) { return m.ground.yield_pressure; },
        [](Model& m, std::optional<double> v) { m.ground.yield_pressure = v; }, {0, 1e5, true, true, {}});
    tick(
        "The ground may pull (tension)", "tension", "Let the ground pull",
        [](const Model& m) { return m.ground.tension; }, [](Model& m, bool on) { m.ground.tension = on; });
    heading("Limits");
    field(
        "Settlement", Dimension::millimetres, "settlement-limit", "Set the settlement limit",
        [](const Model& m) {
            return m.checks.settlement_limit ? std::optional(1000 * *m.checks.settlement_limit) : std::nullopt;
        },
        [](Model& m, std::optional<double> v) {
            m.checks.settlement_limit = v ? std::optional(*v / 1000) : std::nullopt,
            m.checks.keys["settlement_limit"] = "";
        },
        {0, 1e4, true, true, owned(&Model::checks, "settlement_limit")});
    field(
        "Slope between columns 1 in", Dimension::none, "distortion-limit", "Set the distortion limit",
        [](const Model& m) {
            return m.checks.distortion_limit ? std::optional(1 / *m.checks.distortion_limit) : std::nullopt;
        },
        [](Model& m, std::optional<double> v) {
            m.checks.distortion_limit = v ? std::optional(1 / *v) : std::nullopt,
            m.checks.keys["distortion_limit"] = "";
        },
        {1, 1e6, false, true, owned(&Model::checks, "distortion_limit")});
    field(
        "Tilt 1 in", Dimension::none, "tilt-limit", "Set the tilt limit",
        [](const Model& m) { return m.checks.tilt_limit ? std::optional(1 / *m.checks.tilt_limit) : std::nullopt; },
        [](Model& m, std::optional<double> v) {
            m.checks.tilt_limit = v ? std::optional(1 / *v) : std::nullopt, m.checks.keys["tilt_limit"] = "";
        },
        {1, 1e6, false, true, owned(&Model::checks, "tilt_limit")});
    field(
        "Least share in contact", Dimension::none, "contact-limit", "Set the least contact ratio",
        [](const Model& m) { return m.checks.contact_ratio_limit; },
        [](Model& m, std::optional<double> v) { m.checks.contact_ratio_limit = v; }, {0, 1, true, true, {}});
}

// A row a stratum. Columns of numbers, edited in place; an empty cell takes a value away where it may be missing.
void Tray::strata_table() {
    struct ColumnOf {
        const char* head;
        std::function<std::optional<double>(const Stratum&)> get;
        std::function<void(Stratum&, std::optional<double>)> put;
        bool may_be_empty;
    };
    static const std::vector<ColumnOf> columns{
        {"E", [](auto& s) { return std::optional(s.E); },
         [](auto& s, auto v) {
             s.E = *v;
             s.E_basis.clear();
         },
         false},
        {"E again", [](auto& s) { return s.E_reload; }, [](auto& s, auto v) { s.E_reload = v; }, true},
        {"ν", [](auto& s) { return std::optional(s.nu); }, [](auto& s, auto v) { s.nu = *v; }, false},
        {"γ", [](auto& s) { return std::optional(s.unit_weight); }, [](auto& s, auto v) { s.unit_weight = *v; }, false},
        {"γ sat", [](auto& s) { return std::optional(s.saturated_unit_weight); },
         [](auto& s, auto v) { s.saturated_unit_weight = *v; }, false},
        {"cv", [](auto& s) { return s.cv; }, [](auto& s, auto v) { s.cv = v; }, true},
        {"path", [](auto& s) { return s.drainage_path; }, [](auto& s, auto v) { s.drainage_path = v; }, true},
        {"Cc", [](auto& s) { return s.compression_index; }, [](auto& s, auto v) { s.compression_index = v; }, true},
        {"Cr", [](auto& s) { return s.recompression_index; }, [](auto& s, auto v) { s.recompression_index = v; }, true},
        {"e₀", [](auto& s) { return s.void_ratio; }, [](auto& s, auto v) { s.void_ratio = v; }, true},
        {"σ′p", [](auto& s) { return s.preconsolidation; }, [](auto& s, auto v) { s.preconsolidation = v; }, true}};
    QStringList heads{"stratum"};
    for (const ColumnOf& c : columns) heads << c.head;
    QTableWidget* t = table(int(heads.size()), heads, "strata");
    t->horizontalHeader()->setDefaultSectionSize(46);
    t->setColumnWidth(0, 92);
    refreshers_.push_back([this, t] {
        const auto& strata = desk_->now().ground.strata;
        t->setRowCount(int(strata.size()));
        for (int r = 0; r < int(strata.size()); ++r) {
            const Stratum& s = strata[size_t(r)];
            const bool proposed = s.E_basis.rfind("proposal", 0) == 0 || s.E_basis.rfind("placeholder", 0) == 0;
            cell(t, r, 0, QString::fromStdString(s.id), true, false)->setToolTip(QString::fromStdString(s.description));
            for (int c = 0; c < int(columns.size()); ++c) {
                const auto v = columns[size_t(c)].get(s);
                auto* i = cell(t, r, 1 + c, v ? plain(*v) + (c == 0 && proposed ? " ?" : "") : "", true);
                i->setToolTip(c == 0 ? QString::fromStdString(s.E_basis) : QString());
                i->setForeground(c == 0 && proposed ? look::rust : look::ink);
            }
        }
        fit_height(t);
    });
    connect(t, &QTableWidget::cellChanged, this, [this, t](int row, int column) {
        if (filling_) return;
        Model m = desk_->now();
        Stratum& s = m.ground.strata[size_t(row)];
        const QString text = t->item(row, column)->text().remove('?').trimmed();
        if (column == 0) {
            const std::string id = text.toStdString();
            if (id.empty() || find_id(m.ground.strata, id)) return refresh();
            for (Borehole& b : m.ground.boreholes)
                for (BoreholeLayer& l : b.layers)
                    if (l.stratum == s.id) l.stratum = id;
            const std::string was = std::exchange(s.id, id);
            return desk_->document()->apply(QString("Rename stratum %1").arg(QString::fromStdString(was)),
                                            std::move(m));
        }
        const ColumnOf& c = columns[size_t(column - 1)];
        const auto v = number_in(text);
        if (!v && !(text.isEmpty() && c.may_be_empty)) {
            desk_->say(QString("\"%1\" is not a number.").arg(text), true);
            return refresh();
        }
        c.put(s, v);
        desk_->document()->apply(QString("Set %1 of %2").arg(QString::fromUtf8(c.head), QString::fromStdString(s.id)),
                                 std::move(m));
    });
    words(
        "E: Young's modulus, drained, and E again on reloading, in MPa; γ in kN/m³; cv in m²/year; drainage path in m, "
        "empty: by the layers next to it; σ′p in kPa.");
    live(
        [this] {
            QStringList said;
            for (const Stratum& s : desk_->now().ground.strata)
                if (s.E_basis.rfind("proposal", 0) == 0 || s.E_basis.rfind("placeholder", 0) == 0)
                    said << QString("%1: %2").arg(QString::fromStdString(s.id), QString::fromStdString(s.E_basis));
            return said.isEmpty() ? QString()
                                  : "<b>?</b> " + said.join("; ").toHtmlEscaped() + ". A number typed in is yours.";
        },
        "strata-basis");
    button("Add a stratum", "add-stratum", [this] {
        Model m = desk_->now();
        std::vector<std::string> taken;
        for (const Stratum& s : m.ground.strata) taken.push_back(s.id);
        Stratum s;
        s.id = fresh_id("stratum-", taken);
        s.E_basis = "placeholder: not from the report";
        m.ground.strata.push_back(s);
        desk_->document()->apply("Add a stratum", std::move(m));
    });
}

void Tray::borehole_tables() {
    const Model& now = desk_->now();
    QTableWidget* holes = table(5, {"borehole", "x m", "y m", "ground m", "water m"}, "boreholes");
    holes->horizontalHeader()->setDefaultSectionSize(58);
    holes->setColumnWidth(0, 76);
    refreshers_.push_back([this, holes] {
        const auto& list = desk_->now().ground.boreholes;
        holes->setRowCount(int(list.size()));
        for (int r = 0; r < int(list.size()); ++r) {
            const Borehole& b = list[size_t(r)];
            cell(holes, r, 0, QString::fromStdString(b.id), true, false)
                ->setFont(look::font(look::Size::small, r == desk_->borehole()));
            cell(holes, r, 1, plain(b.at.x), true), cell(holes, r, 2, plain(b.at.y), true);
            cell(holes, r, 3, b.ground_level ? plain(*b.ground_level) : "", true);
            cell(holes, r, 4, b.water_level ? plain(*b.water_level) : "", true);
        }
        fit_height(holes);
    });
    connect(holes, &QTableWidget::cellClicked, this, [this](int row, int) {
        if (desk_->borehole() == row) return;
        const std::string id = desk_->now().ground.boreholes[size_t(row)].id;
        QMetaObject::invokeMethod(
            this,
            [this, id] {
                desk_->choose({{ThingKind::borehole, id}});
            },
            Qt::QueuedConnection);
    });
    connect(holes, &QTableWidget::cellChanged, this, [this, holes](int row, int column) {
        if (filling_) return;
        Model m = desk_->now();
        Borehole& b = m.ground.boreholes[size_t(row)];
        const QString text = holes->item(row, column)->text().trimmed();
        const auto v = number_in(text);
        if (column == 0) {
            if (text.isEmpty() || find_id(m.ground.boreholes, text.toStdString())) return refresh();
            b.id = text.toStdString();
            if (desk_->borehole() == row) desk_->chosen = {{ThingKind::borehole, b.id}};  // it stays in hand
        } else if (column <= 2) {
            if (!v) return refresh();
            (column == 1 ? b.at.x : b.at.y) = *v;
        } else {
            if (!v && !text.isEmpty()) return refresh();
            (column == 3 ? b.ground_level : b.water_level) = v;
        }
        desk_->document()->apply("Edit borehole " + QString::fromStdString(b.id), std::move(m));
    });
    if (const int which = desk_->borehole(); which >= 0) {
        words(QString("Layers of %1, from the top; blow counts N where tested.")
                  .arg(QString::fromStdString(now.ground.boreholes[size_t(which)].id)));
        QTableWidget* t = table(4, {"stratum", "bottom m", "thick m", "N"}, "layers");
        t->horizontalHeader()->setDefaultSectionSize(62);
        t->setColumnWidth(0, 110);
        refreshers_.push_back([this, t, which] {
            const auto& list = desk_->now().ground.boreholes;
            if (which >= int(list.size())) return;
            const Borehole& b = list[size_t(which)];
            t->setRowCount(int(b.layers.size()));
            double above = ground_level_of(desk_->now(), b);
            for (int r = 0; r < int(b.layers.size()); ++r) {
                const BoreholeLayer& l = b.layers[size_t(r)];
                cell(t, r, 0, QString::fromStdString(l.stratum), true, false);
                cell(t, r, 1, plain(l.bottom), true);
                cell(t, r, 2, look::number(above - l.bottom, 2), false);
                QStringList N;
                for (const BlowCount& k : b.blow_counts)
                    if (k.level <= above && k.level > l.bottom) N << look::number(k.N, 0);
                cell(t, r, 3, N.join(" "), false);
                above = l.bottom;
            }
            fit_height(t);
        });
        connect(t, &QTableWidget::cellChanged, this, [this, t, which](int row, int column) {
            if (filling_) return;
            Model m = desk_->now();
            Borehole& b = m.ground.boreholes[size_t(which)];
            BoreholeLayer& l = b.layers[size_t(row)];
            const QString text = t->item(row, column)->text().trimmed();
            if (column == 0) {
                if (!find_id(m.ground.strata, text.toStdString())) {
                    desk_->say(QString("There is no stratum \"%1\"; add it above first.").arg(text), true);
                    return refresh();
                }
                l.stratum = text.toStdString();
            } else if (const auto v = number_in(text)) {
                l.bottom = *v;
            } else {
                return refresh();
            }
            desk_->document()->apply("Edit the layers of " + QString::fromStdString(b.id), std::move(m));
        });
        button("Add a layer below", "add-layer", [this, which] {
            Model m = desk_->now();
            if (m.ground.strata.empty()) return desk_->say("Add a stratum first.", true);
            Borehole& b = m.ground.boreholes[size_t(which)];
            const double above = b.layers.empty() ? ground_level_of(m, b) : b.layers.back().bottom;
            b.layers.push_back({m.ground.strata.back().id, above - 3, {}});
            desk_->document()->apply("Add a layer to " + QString::fromStdString(b.id), std::move(m));
        });
        button("Remove the lowest layer", "remove-layer", [this, which] {
            Model m = desk_->now();
            Borehole& b = m.ground.boreholes[size_t(which)];
            if (b.layers.empty()) return;
            b.layers.pop_back();
            desk_->document()->apply("Remove a layer of " + QString::fromStdString(b.id), std::move(m));
        });
        button("Delete this borehole", "delete-borehole", [this, which] {
            Model m = desk_->now();
            const QString id = QString::fromStdString(m.ground.boreholes[size_t(which)].id);
            m.ground.boreholes.erase(m.ground.boreholes.begin() + which);
            desk_->document()->apply("Delete borehole " + id, std::move(m));
        });
    } else if (!now.ground.boreholes.empty()) {
        words("Click a borehole, here or on the plan, for its layers; drag the small squares in the Cut.");
    }
    button("Add a borehole", "add-borehole", [this] {
        Model m = desk_->now();
        if (m.ground.strata.empty()) {
            Stratum s;
            s.id = "stratum-1", s.E_basis = "placeholder: not from a report";
            m.ground.strata.push_back(s);
        }
        std::vector<std::string> taken;
        for (const Borehole& b : m.ground.boreholes) taken.push_back(b.id);
        Borehole b;
        b.id = fresh_id("BH", taken);
        const mossbed::Box box = box_of(outer_rim(m.slab.outline, 1.0));
        b.at = {std::round(box.low.x + box.width() * (0.2 + 0.3 * double(taken.size() % 3))),
                std::round(box.middle().y)};
        if (const auto used = boreholes_that_count(m.ground); !used.empty() && !has_errors(problems_of_strata(m))) {
            const SoilColumn c = SoilProfile(m.ground).at(b.at);  // what is known there already
            b.ground_level = std::round(100 * c.ground_level) / 100;
            if (std::isfinite(c.water_level)) b.water_level = std::round(100 * c.water_level) / 100;
            for (const SoilLayer& l : c.layers)
                b.layers.push_back({m.ground.strata[size_t(l.stratum)].id, std::round(100 * l.bottom) / 100, {}});
        } else {
            b.ground_level = m.ground.ground_level.value_or(m.slab.top_level);
            b.layers = {{m.ground.strata.front().id, founding_level(m) - 10, {}}};
        }
        m.ground.boreholes.push_back(b);
        desk_->document()->apply("Add borehole " + QString::fromStdString(b.id), std::move(m));
        desk_->choose({{ThingKind::borehole, b.id}});
    });
}

// A report that was read: what was understood, what becomes which stratum, and where it lies.
void Tray::build_taking() {
    const Desk::Taking& t = *desk_->taking;
    heading("Ground report", t.file);
    if (!t.report.project.empty()) words(QString::fromStdString(t.report.project));
    int placed = 0, left = 0, blows = 0;
    for (const ReportHole& h : t.report.holes) {
        (reason_left_out(h, desk_->now()).empty() ? placed : left)++;
        blows += int(h.blows.size());
    }
    words(QString("Understood: %1 boreholes with layers%2, %3 geology codes, %4 blow counts.")
              .arg(placed)
              .arg(left ? QString(" (%1 left out)").arg(left) : QString())
              .arg(t.report.codes.size())
              .arg(blows),
          "report-summary");
    std::vector<Problem> said = problems_of_taking(t.report, t.placing, desk_->now());
    said.insert(said.begin(), t.report.problems.begin(), t.report.problems.end());
    std::stable_sort(said.begin(), said.end(),
                     [](const Problem& a, const Problem& b) { return a.severity > b.severity; });  // errors first
    for (size_t k = 0; k < std::min<size_t>(said.size(), 8); ++k)
        words(QString::fromStdString(said[k].sentence()), nullptr, said[k].severity == Severity::error);
    if (said.size() > 8) words(QString("… and %1 more.").arg(said.size() - 8));
    QTableWidget* codes = table(4, {"code", "thick m", "mean N", "stratum"}, "report-codes");
    codes->horizontalHeader()->setDefaultSectionSize(54);
    codes->setColumnWidth(3, 112);
    refreshers_.push_back([this, codes] {
        if (!desk_->taking) return;
        const auto& list = desk_->taking->report.codes;
        codes->setRowCount(int(list.size()));
        for (int r = 0; r < int(list.size()); ++r) {
            const ReportCode& c = list[size_t(r)];
            cell(codes, r, 0, QString::fromStdString(c.code), false, false)
                ->setToolTip(QString::fromStdString(c.description));
            cell(codes, r, 1, look::number(c.thickness, 1), false);
            cell(codes, r, 2, c.mean_blows ? look::number(*c.mean_blows, 0) : "", false);
            cell(codes, r, 3, QString::fromStdString(desk_->taking->placing.stratum_of[c.code]), true, false);
        }
        fit_height(codes);
    });
    connect(codes, &QTableWidget::cellChanged, this, [this, codes](int row, int column) {
        if (filling_ || column != 3 || !desk_->taking) return;
        desk_->taking->placing.stratum_of[desk_->taking->report.codes[size_t(row)].code] =
            codes->item(row, column)->text().trimmed().toStdString();
    });
    words("Type the stratum that each code becomes: one that exists, or a new name. Two codes may become one stratum.");
    auto placing = [this](const QString& label, Dimension unit, const QString& name, double* value) {
        auto* f = new Field(label, unit, name);
        f->show_value(*value, false);
        box_->addWidget(f);
        connect(f, &Field::entered, this, [this, value](std::optional<double> v) {
            if (desk_->taking && v) *value = *v, desk_->tell(Desk::view);
        });
    };
    Placing& p = desk_->taking->placing;
    placing("Easting of the origin", Dimension::length, "report-east", &p.origin.x);
    placing("Northing of the origin", Dimension::length, "report-north", &p.origin.y);
    placing("+x from east, degrees", Dimension::none, "report-turn", &p.turn);
    words("The plan shows where the boreholes come to stand.");
    if (placed == 0)
        words("No borehole can be taken from it.", nullptr, true);
    else
        button(QString("Take over %1 boreholes").arg(placed), "take-report", [this] {
            QMetaObject::invokeMethod(
                desk_, [d = desk_] { d->take_report(); }, Qt::QueuedConnection);
        });
    button("Leave it", "leave-report", [this] {
        desk_->taking.reset();
        QMetaObject::invokeMethod(
            desk_, [d = desk_] { d->tell(Desk::choice | Desk::view); }, Qt::QueuedConnection);
    });
}

}  // namespace mossbed
