// Strata, boreholes and their layers in the Tray at the stop Ground.
#include "app/tray/pages.h"
#include "app/tray/parts.h"
#include "core/ground/soil_profile.h"
#include "core/model/edit.h"

namespace mossbed {
namespace {

void add_borehole(Desk* desk) {
    const Borehole b = new_borehole(desk->now(), desk->profile());
    Model m = desk->now();
    if (m.ground.strata.empty()) m.ground.strata.push_back(placeholder_stratum(b.layers.front().stratum));
    m.ground.boreholes.push_back(b);
    desk->document()->apply("Add borehole " + q(b.id), std::move(m));
    desk->choose({{ThingKind::borehole, b.id}});
}

}  // namespace

void GroundPage::strata_and_boreholes() {
    heading("Strata and boreholes");
    live(
        [this] {
            const Ground& g = now().ground;
            size_t layers = 0;
            for (const Borehole& b : g.boreholes) layers += b.layers.size();
            if (g.boreholes.empty() && g.strata.empty()) return QString("None yet.");
            return QString("%1 boreholes with %2 layers of %3 strata. Each has a table below the plan.")
                .arg(g.boreholes.size())
                .arg(layers)
                .arg(g.strata.size());
        },
        "ground-count");
    std::vector<Button> tables;
    for (TableKind k : {TableKind::boreholes, TableKind::layers, TableKind::strata})
        tables.push_back(
            {title_of(k), QString("open-%1").arg(q(title_of(k)).toLower()), [this, k] { Q_EMIT table_wanted(k); }});
    buttons(tables);
    live([this] { return bases(); }, "strata-basis");
    buttons({{"Add a borehole", "add-borehole", [this] { add_borehole(desk_); }},
             {"Add a stratum", "add-stratum", [this] {
                  edit("Add a stratum", [](Model& m) {
                      std::vector<std::string> taken;
                      for (const Stratum& s : m.ground.strata) taken.push_back(s.id);
                      m.ground.strata.push_back(placeholder_stratum(fresh_id("stratum-", taken)));
                  });
                  Q_EMIT table_wanted(TableKind::strata);
              }}});
}

QString GroundPage::bases() const {
    QStringList said;
    for (const Stratum& s : now().ground.strata)
        if (is_proposed(s)) said << QString("%1: %2").arg(q(s.id), q(s.E_basis));
    return said.isEmpty() ? QString() : "<b>?</b> " + said.join("; ").toHtmlEscaped() + ". A number typed in is yours.";
}

std::string BoreholePage::key() const {
    const Borehole* b = find_id(now().ground.boreholes, id_);
    return "borehole " + id_ + " " + std::to_string(b ? b->layers.size() : 0);
}

void BoreholePage::build() {
    heading("Borehole " + q(id_));
    auto at = [&](const char* key) { return path("ground/boreholes", id_, key); };
    field(at("at/x"), {.name = "borehole-x", .deed = "Move borehole " + q(id_)});
    field(at("at/y"), {.name = "borehole-y", .deed = "Move borehole " + q(id_)});
    field(at("ground_level"), {.name = "borehole-ground", .label = "Ground level"});
    field(at("water_level"), {.name = "borehole-water", .label = "Water level"});
    words("An empty level follows the ground's, or the other boreholes'.");
    layers();
    button("Add another borehole", "add-borehole", [this] { add_borehole(desk_); });
    box_->addStretch(1);
}

void BoreholePage::layers() {
    heading("Layers", "from the top");
    words("N: blow counts where tested. Their bottoms can be dragged in the Cut, too.");
    const std::string id = id_;
    QTableWidget* t = table({"stratum", "bottom m", "thick m", "N"}, "layers");
    t->horizontalHeader()->setDefaultSectionSize(62);
    t->setColumnWidth(0, 110);
    refreshers_.push_back([this, t] { fill_layers(t); });
    connect(t, &QTableWidget::cellChanged, this, [this, t](int row, int column) { take_layer(t, row, column); });
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

void BoreholePage::fill_layers(QTableWidget* t) {
    const Borehole* b = find_id(now().ground.boreholes, id_);
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

void BoreholePage::take_layer(QTableWidget* t, int row, int column) {
    const std::string id = id_;
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

}  // namespace mossbed
