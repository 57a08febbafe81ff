// Strata, boreholes and their layers in the Tray at the stop Ground.
#include "app/tray/pages.h"
#include "app/tray/parts.h"
#include "core/ground/soil_profile.h"
#include "core/model/edit.h"

namespace mossbed {
namespace {

bool is_proposed(const Stratum& s) {
    return s.E_basis.rfind("proposal", 0) == 0 || s.E_basis.rfind("placeholder", 0) == 0;
}

}  // namespace

void GroundPage::strata() {
    QTableWidget* t = things_table(
        "strata", "stratum", "ground/strata",
        [](const Model& m) {
            std::vector<std::string> ids;
            for (const Stratum& s : m.ground.strata) ids.push_back(s.id);
            return ids;
        },
        {{"E"},
         {"E_reload", "E again"},
         {"nu"},
         {"unit_weight"},
         {"saturated_unit_weight", "γ sat"},
         {"cv"},
         {"drainage_path", "path"},
         {"compression_index"},
         {"recompression_index"},
         {"void_ratio"},
         {"preconsolidation"}},
        rename_stratum);
    t->horizontalHeader()->setDefaultSectionSize(46);
    t->setColumnWidth(0, 92);
    words(
        "E: Young's modulus, drained, and E again on reloading, in MPa; γ in kN/m³; cv in m²/year; drainage path in m, "
        "empty: by the layers next to it; σ′p in kPa.");
    live([this] { return bases(); }, "strata-basis");
    button("Add a stratum", "add-stratum", [this] {
        edit("Add a stratum", [](Model& m) {
            std::vector<std::string> taken;
            for (const Stratum& s : m.ground.strata) taken.push_back(s.id);
            Stratum s;
            s.id = fresh_id("stratum-", taken), s.E_basis = "placeholder: not from the report";
            m.ground.strata.push_back(s);
        });
    });
}

QString GroundPage::bases() const {
    QStringList said;
    for (const Stratum& s : now().ground.strata)
        if (is_proposed(s)) said << QString("%1: %2").arg(q(s.id), q(s.E_basis));
    return said.isEmpty() ? QString() : "<b>?</b> " + said.join("; ").toHtmlEscaped() + ". A number typed in is yours.";
}

void GroundPage::dress(QTableWidget* t, int row, const std::string& id) {
    if (const Stratum* s = t->objectName() == "strata" ? find_id(now().ground.strata, id) : nullptr) {
        t->item(row, 0)->setToolTip(q(s->description));
        QTableWidgetItem* E = t->item(row, 1);
        if (is_proposed(*s)) E->setText(E->text() + " ?");
        E->setToolTip(q(s->E_basis));
        E->setForeground(is_proposed(*s) ? look::rust : look::ink);
    }
    if (t->objectName() == "boreholes")
        t->item(row, 0)->setFont(look::font(look::Size::small, row == desk_->borehole()));
}

void GroundPage::after_set(Model& m, const std::string& list, const std::string& id, const std::string& key) {
    if (list == "ground/strata" && key == "E")
        find_id(m.ground.strata, id)->E_basis.clear();  // it is the engineer's now
}

void GroundPage::boreholes() {
    QTableWidget* t = things_table(
        "boreholes", "borehole", "ground/boreholes",
        [](const Model& m) {
            std::vector<std::string> ids;
            for (const Borehole& b : m.ground.boreholes) ids.push_back(b.id);
            return ids;
        },
        {{"at/x", "x m"}, {"at/y", "y m"}, {"ground_level", "ground m"}, {"water_level", "water m"}},
        [this](Model& m, const std::string& from, const std::string& to) {
            Borehole* b = find_id(m.ground.boreholes, from);
            if (!b || find_id(m.ground.boreholes, to)) return false;
            b->id = to;
            if (desk_->chosen.erase({ThingKind::borehole, from})) desk_->chosen.insert({ThingKind::borehole, to});
            return true;
        });
    t->horizontalHeader()->setDefaultSectionSize(58);
    t->setColumnWidth(0, 76);
    connect(t, &QTableWidget::cellClicked, this, [this](int row, int) {
        if (desk_->borehole() == row || row >= int(now().ground.boreholes.size())) return;
        const Things one{{ThingKind::borehole, now().ground.boreholes[size_t(row)].id}};
        QMetaObject::invokeMethod(
            desk_, [d = desk_, one] { d->choose(one); }, Qt::QueuedConnection);  // this page gives way
    });
    if (const int which = desk_->borehole(); which >= 0)
        layers(now().ground.boreholes[size_t(which)].id);
    else if (!now().ground.boreholes.empty())
        words("Click a borehole, here or on the plan, for its layers; drag the small squares in the Cut.");
    button("Add a borehole", "add-borehole", [this] { add_borehole(); });
}

void GroundPage::layers(const std::string& id) {
    words(QString("Layers of %1, from the top; blow counts N where tested.").arg(q(id)));
    QTableWidget* t = table({"stratum", "bottom m", "thick m", "N"}, "layers");
    t->horizontalHeader()->setDefaultSectionSize(62);
    t->setColumnWidth(0, 110);
    refreshers_.push_back([this, t, id] { fill_layers(t, id); });
    connect(t, &QTableWidget::cellChanged, this,
            [this, t, id](int row, int column) { take_layer(t, id, row, column); });
    auto of = [id](Model& m) -> Borehole& { return *find_id(m.ground.boreholes, id); };
    button("Add a layer below", "add-layer", [this, id, of] {
        if (now().ground.strata.empty()) return refuse("Add a stratum first.");
        edit("Add a layer to " + q(id), [&](Model& m) {
            Borehole& b = of(m);
            const double above = b.layers.empty() ? ground_level_of(m, b) : b.layers.back().bottom;
            b.layers.push_back({m.ground.strata.back().id, above - 3, {}});
        });
    });
    button("Remove the lowest layer", "remove-layer", [this, id, of] {
        if (find_id(now().ground.boreholes, id)->layers.empty()) return;
        edit("Remove a layer of " + q(id), [&](Model& m) { of(m).layers.pop_back(); });
    });
    button("Delete this borehole", "delete-borehole", [this, id] {
        const Things gone{{ThingKind::borehole, id}};
        desk_->document()->apply(words_of_deletion(gone), without(now(), gone));
    });
}

void GroundPage::fill_layers(QTableWidget* t, const std::string& id) {
    const Borehole* b = find_id(now().ground.boreholes, id);
    if (!b) return;
    t->setRowCount(int(b->layers.size()));
    double above = ground_level_of(now(), *b);
    for (int r = 0; r < int(b->layers.size()); ++r) {
        const BoreholeLayer& l = b->layers[size_t(r)];
        cell(t, r, 0, q(l.stratum), true, false);
        cell(t, r, 1, plain(l.bottom), true);
        cell(t, r, 2, look::number(above - l.bottom, 2), false);
        QStringList N;
        for (const BlowCount& k : b->blow_counts)
            if (k.level <= above && k.level > l.bottom) N << look::number(k.N, 0);
        cell(t, r, 3, N.join(" "), false);
        above = l.bottom;
    }
    fit_height(t);
}

void GroundPage::take_layer(QTableWidget* t, const std::string& id, int row, int column) {
    const Borehole* b = find_id(now().ground.boreholes, id);
    if (filling_ || !b || row >= int(b->layers.size())) return;
    const QString text = t->item(row, column)->text().trimmed(), deed = "Edit the layers of " + q(id);
    auto change = [&](auto f) {
        edit(deed, [&](Model& m) { f(find_id(m.ground.boreholes, id)->layers[size_t(row)]); });
    };
    if (column == 0) {
        if (!find_id(now().ground.strata, text.toStdString()))
            return refuse(QString("There is no stratum \"%1\"; add it above first.").arg(text));
        return change([&](BoreholeLayer& l) { l.stratum = text.toStdString(); });
    }
    QString why;
    const auto v = read_number(text, Unit::metre, &why);
    if (!v) return refuse(QString("The level is not taken: %1.").arg(why));
    change([&](BoreholeLayer& l) { l.bottom = *v; });
}

void GroundPage::add_borehole() {
    const Borehole b = new_borehole(now(), desk_->profile());
    edit("Add borehole " + q(b.id), [&](Model& m) {
        if (m.ground.strata.empty()) m.ground.strata.push_back(placeholder_stratum(b.layers.front().stratum));
        m.ground.boreholes.push_back(b);
    });
    desk_->choose({{ThingKind::borehole, b.id}});
}

}  // namespace mossbed
