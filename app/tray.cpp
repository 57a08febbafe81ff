#include "app/tray.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHeaderView>
#include <QPushButton>
#include <QScrollBar>
#include <QVBoxLayout>

#include "app/plan_view.h"
#include "app/tray_parts.h"
#include "core/model/edit.h"

namespace mossbed {

Tray::Tray(Desk* desk, QWidget* parent) : QScrollArea(parent), desk_(desk) {
    setObjectName("tray");
    setWidgetResizable(true);
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    connect(desk, &Desk::changed, this, [this](int what) {
        if (what & (Desk::model | Desk::view | Desk::choice)) rebuild();
        if (what & (Desk::model | Desk::answers | Desk::view)) refresh();
    });
    rebuild();
}

void Tray::rebuild() {
    const Model& m = desk_->now();
    const bool none = !has_slab(desk_->now());
    std::string what = none ? "beginnings" : "stop " + std::to_string(int(desk_->stop));
    const std::set<std::string> columns = ids_of(desk_->chosen, ThingKind::column);
    const Thing* side = only_one(desk_->chosen, ThingKind::slab_side);
    if (!none && !columns.empty()) {
        what = "columns";
        for (auto& id : columns) what += " " + id;
    } else if (!none && side) {
        what = "rim " + std::to_string(side->part);
    }
    // Lists whose length shows: rebuilt when it changes.
    what += " | " + std::to_string(m.loads.cases.size()) + " " +
            std::to_string(m.loads.combinations ? m.loads.combinations->size() : 0);
    for (const LoadCase& c : m.loads.cases) what += " " + c.id;
    if (desk_->stop == Stop::ground) {
        what += " | " + std::string(name_of(m.ground.model)) + " " + std::to_string(desk_->borehole()) + " " +
                std::to_string(bool(desk_->taking));
        for (const Stratum& t : m.ground.strata) what += " " + t.id;
        for (const Borehole& b : m.ground.boreholes) what += " " + b.id + std::to_string(b.layers.size());
    }
    if (what == built_for_) return;
    built_for_ = what;
    refreshers_.clear();
    combinations_ = column_loads_ = nullptr;
    body_ = new QWidget;
    body_->setObjectName("tray-body");
    box_ = new QVBoxLayout(body_);
    box_->setContentsMargins(14, 10, 12, 10);
    box_->setSpacing(6);
    if (none)
        build_beginnings();
    else if (!columns.empty())
        build_columns();
    else if (side)
        build_rim(side->part);
    else
        switch (desk_->stop) {
            case Stop::ground:
                build_ground();
                break;
            case Stop::slab:
                build_slab();
                break;
            case Stop::loads:
                build_loads();
                break;
            case Stop::contact:
                build_contact();
                break;
            case Stop::shear:
                build_shear();
                break;
            case Stop::steel:
                build_steel();
                break;
            case Stop::sheets:
                build_sheets();
                break;
        }
    box_->addStretch(1);
    setWidget(body_);
    refresh();
}

void Tray::refresh() {
    filling_ = true;
    for (auto& f : refreshers_) f();
    filling_ = false;
}

void Tray::heading(const QString& text, const QString& right) {
    auto* row = new QHBoxLayout;
    auto* l = new QLabel(text);
    l->setFont(look::font(look::Size::large, true));
    row->addWidget(l, 1);
    if (!right.isEmpty()) {
        auto* r = new QLabel(right);
        r->setProperty("faint", true);
        row->addWidget(r);
    }
    box_->addLayout(row);
}

void Tray::words(const QString& text, const char* name, bool fault) {
    auto* l = new QLabel(text);
    l->setWordWrap(true);
    l->setProperty(fault ? "fault" : "faint", true);
    if (name) l->setObjectName(name);
    box_->addWidget(l);
}

void Tray::live(std::function<QString()> text, const char* name) {
    auto* l = new QLabel;
    l->setWordWrap(true);
    l->setObjectName(name);
    l->setTextFormat(Qt::RichText);
    box_->addWidget(l);
    refreshers_.push_back([l, text] { l->setText(text()); });
}

Field* Tray::field(const QString& label, Dimension unit, const QString& name, const QString& deed, Get get, Put put,
                   FieldOptions o) {
    auto* f = new Field(label, unit, name);
    f->set_range(o.low, o.high, o.open_low);
    f->set_optional(o.optional);
    box_->addWidget(f);
    refreshers_.push_back(
        [this, f, get, o] { f->show_value(get(desk_->now()), o.standard && o.standard(desk_->now())); });
    connect(f, &Field::entered, this, [this, deed, put](std::optional<double> v) {
        Model m = desk_->now();
        put(m, v);
        desk_->document()->apply(deed, std::move(m));
    });
    return f;
}

void Tray::choice(const QString& label, const QString& name, const QStringList& shown,
                  const std::vector<std::string>& values, const QString& deed,
                  std::function<std::string(const Model&)> get, std::function<void(Model&, const std::string&)> put) {
    auto* row = new QHBoxLayout;
    auto* c = new QComboBox;
    c->setObjectName(name);
    c->addItems(shown);
    c->setFixedWidth(154);
    row->addWidget(new QLabel(label), 1);
    row->addWidget(c);
    box_->addLayout(row);
    refreshers_.push_back([this, c, values, get] {
        const auto it = std::find(values.begin(), values.end(), get(desk_->now()));
        c->setCurrentIndex(it == values.end() ? -1 : int(it - values.begin()));
    });
    connect(c, &QComboBox::activated, this, [this, values, deed, put](int i) {
        Model m = desk_->now();
        put(m, values[size_t(i)]);
        desk_->document()->apply(deed, std::move(m));
    });
}

void Tray::tick(const QString& label, const QString& name, const QString& deed, std::function<bool(const Model&)> get,
                std::function<void(Model&, bool)> put) {
    auto* c = new QCheckBox(label);
    c->setObjectName(name);
    box_->addWidget(c);
    refreshers_.push_back([this, c, get] { c->setChecked(get(desk_->now())); });
    connect(c, &QCheckBox::clicked, this, [this, deed, put](bool on) {
        Model m = desk_->now();
        put(m, on);
        desk_->document()->apply(deed, std::move(m));
    });
}

void Tray::button(const QString& text, const QString& name, std::function<void()> deed) {
    auto* b = new QPushButton(text);
    b->setObjectName(name);
    box_->addWidget(b, 0, Qt::AlignLeft);
    connect(b, &QPushButton::clicked, this, deed);
}

QTableWidget* Tray::table(int columns, const QStringList& heads, const QString& name) {
    auto* t = new QTableWidget(0, columns);
    t->setObjectName(name);
    t->setHorizontalHeaderLabels(heads);
    t->verticalHeader()->hide();
    t->verticalHeader()->setDefaultSectionSize(22);
    t->horizontalHeader()->setDefaultAlignment(Qt::AlignRight | Qt::AlignVCenter);
    t->horizontalHeader()->setHighlightSections(false);
    t->setSelectionMode(QAbstractItemView::SingleSelection);
    t->setFrameShape(QFrame::NoFrame);
    t->setFont(look::font(look::Size::small));
    t->setHorizontalScrollBarPolicy(Qt::ScrollBarAsNeeded);
    t->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    box_->addWidget(t);
    return t;
}

void Tray::build_beginnings() {
    heading("A new raft");
    words("Nothing is drawn yet. Begin with one of these; every number can be changed afterwards.");
    button("Draw the slab's outline", "begin-outline", [this] { Q_EMIT tool_wanted(ToolKind::draw_slab); });
    button("Start from a rectangle 12 × 8 m", "begin-rectangle", [this] {
        Model m = desk_->now();
        m.slab.outline = Polygon{{0, 0}, {12, 0}, {12, 8}, {0, 8}};
        desk_->document()->apply("Start from a rectangle", std::move(m));
        desk_->go_to(Stop::slab);
    });
    button("Look at the demo, Tern Quay", "begin-demo", [this] { Q_EMIT demo_wanted(); });
}

void Tray::build_slab() {
    heading("Slab");
    field(
        "Thickness", Dimension::length, "thickness", "Set the thickness",
        [](const Model& m) { return std::optional(m.slab.thickness); },
        [](Model& m, std::optional<double> v) { m.slab.thickness = *v, m.slab.keys["thickness"] = ""; },
        {0, 10, true, false, owned(&Model::slab, "thickness")});
    field(
        "Stiffness, of uncracked", Dimension::none, "stiffness-factor", "Set the factor on the slab's stiffness",
        [](const Model& m) { return std::optional(m.slab.stiffness_factor); },
        [](Model& m, std::optional<double> v) { m.slab.stiffness_factor = *v, m.slab.keys["stiffness_factor"] = ""; },
        {0, 10, true, false, owned(&Model::slab, "stiffness_factor")});
    field(
        "Level of its top", Dimension::length, "top-level", "Set the top level",
        [](const Model& m) { return std::optional(m.slab.top_level); },
        [](Model& m, std::optional<double> v) { m.slab.top_level = *v, m.slab.keys["top_level"] = ""; },
        {-1e4, 1e4, false, false, owned(&Model::slab, "top_level")});
    field(
        "Mesh size", Dimension::length, "mesh-size", "Set the mesh size",
        [](const Model& m) { return std::optional(m.mesh_size); },
        [](Model& m, std::optional<double> v) { m.mesh_size = *v, m.mesh_keys["size"] = ""; },
        {0.02, 20, false, false, [](const Model& m) { return m.mesh_keys.count("size") == 0; }});
    field(
        "Concrete fck", Dimension::strength, "fck", "Set the concrete's strength",
        [](const Model& m) { return std::optional(concrete_of(m, m.slab.concrete).fck); },
        [](Model& m, std::optional<double> v) {
            if (Concrete* c = find_id(m.concretes, m.slab.concrete)) c->fck = *v;
        },
        {5, 150, false, false, {}});
    field(
        "Concrete E", Dimension::strength, "concrete-E", "Set the concrete's E",
        [](const Model& m) { return std::optional(concrete_of(m, m.slab.concrete).E); },
        [](Model& m, std::optional<double> v) {
            if (Concrete* c = find_id(m.concretes, m.slab.concrete)) c->E = *v;
        },
        {0, 1e9, true, false, {}});
    tick(
        "Carry the slab's weight", "self-weight", "Switch the self-weight",
        [](const Model& m) { return m.slab.self_weight; }, [](Model& m, bool on) { m.slab.self_weight = on; });
    live(
        [this] {
            const Answer* a = desk_->answer().get();
            if (!a) return QString();
            return QString("Mesh: %1 nodes, %2 cells, %3 % quadrilaterals, smallest angle %4°, worst aspect %5")
                .arg(a->quality.nodes)
                .arg(a->quality.elements)
                .arg(look::number(100 * a->quality.quad_share, 0), look::number(a->quality.smallest_angle, 0),
                     look::number(a->quality.worst_aspect, 1));
        },
        "mesh-quality");
    live([this] { return desk_->mesh_report; }, "mesh-report");
    button("Check the mesh", "check-mesh", [this] { desk_->check_mesh(); });
    button("Draw a new outline", "draw-outline", [this] { Q_EMIT tool_wanted(ToolKind::draw_slab); });
    button("Add columns", "add-columns", [this] { Q_EMIT tool_wanted(ToolKind::add_column); });
}

void Tray::build_rim(int side) {
    heading(QString("Rim %1").arg(side + 1));
    live(
        [this, side] {
            const auto* ring = std::get_if<Polygon>(&desk_->now().slab.outline);
            if (!ring || side >= int(ring->size())) return QString();
            const Point a = (*ring)[size_t(side)], b = (*ring)[(size_t(side) + 1) % ring->size()];
            return QString("%1 m long, from (%2, %3) to (%4, %5)")
                .arg(look::number(distance(a, b), 2), look::number(a.x, 2), look::number(a.y, 2), look::number(b.x, 2),
                     look::number(b.y, 2));
        },
        "rim-facts");
    auto* f = field(
        "Push out by", Dimension::length, "push", QString("Push rim %1").arg(side + 1),
        [](const Model&) { return std::optional(0.0); },
        [side](Model& m, std::optional<double> v) {
            if (auto* ring = std::get_if<Polygon>(&m.slab.outline)) *ring = push_rim(*ring, side, *v);
        },
        {-100, 100, false, false, {}});
    Q_UNUSED(f);
    words("A negative number pulls it in. The neighbouring rims keep their direction.");
    auto* corner = new QLabel("Corners");
    corner->setFont(look::font(look::Size::normal, true));
    box_->addWidget(corner);
    for (int end : {0, 1})
        for (bool is_x : {true, false}) {
            auto index = [side, end](const Polygon& p) { return (size_t(side) + size_t(end)) % p.size(); };
            field(
                QString("%1 of corner %2")
                    .arg(is_x ? "x" : "y")
                    .arg(end == 0 ? side + 1 : int(index(std::get<Polygon>(desk_->now().slab.outline))) + 1),
                Dimension::length, QString("corner-%1-%2").arg(end).arg(is_x ? "x" : "y"), "Move a corner",
                [index, is_x](const Model& m) {
                    const auto* p = std::get_if<Polygon>(&m.slab.outline);
                    return p ? std::optional(is_x ? (*p)[index(*p)].x : (*p)[index(*p)].y) : std::nullopt;
                },
                [index, is_x](Model& m, std::optional<double> v) {
                    if (auto* p = std::get_if<Polygon>(&m.slab.outline))
                        (is_x ? (*p)[index(*p)].x : (*p)[index(*p)].y) = *v;
                });
        }
}

void Tray::build_loads() {
    heading("Load cases", "kN, kN·m");
    auto* t = table(5, {"case", "", "Fz", "Mx", "My"}, "cases");
    t->horizontalHeaderItem(0)->setTextAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    t->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
    for (int c : {0, 2, 3, 4}) t->horizontalHeader()->setSectionResizeMode(c, QHeaderView::ResizeToContents);
    refreshers_.push_back([this, t] {
        const Model& m = desk_->now();
        t->setRowCount(int(m.loads.cases.size()));
        for (int i = 0; i < int(m.loads.cases.size()); ++i) {
            const LoadCase& c = m.loads.cases[size_t(i)];
            cell(t, i, 0, QString::fromStdString(c.id), false, false);
            cell(t, i, 1, QString::fromStdString(c.title), true, false);
            const CaseTotal* total = nullptr;
            if (desk_->answer())
                for (const CaseTotal& k : desk_->answer()->cases)
                    if (k.id == c.id) total = &k;
            cell(t, i, 2, total ? look::number(total->on_slab.Fz, 0) : "", false);
            cell(t, i, 3, total ? look::number(total->on_slab.Mx, 0) : "", false);
            cell(t, i, 4, total ? look::number(total->on_slab.My, 0) : "", false);
            if (c.id == desk_->load_case) t->selectRow(i);
        }
        fit_height(t);
    });
    t->setSelectionBehavior(QAbstractItemView::SelectRows);
    connect(t, &QTableWidget::cellClicked, this, [this](int row, int) {
        if (row < int(desk_->now().loads.cases.size()))
            desk_->load_case = desk_->now().loads.cases[size_t(row)].id, desk_->tell(Desk::view);
    });
    connect(t, &QTableWidget::cellChanged, this, [this, t](int row, int column) {
        if (filling_ || column != 1) return;
        Model m = desk_->now();
        m.loads.cases[size_t(row)].title = t->item(row, 1)->text().toStdString();
        desk_->document()->apply("Name a case", std::move(m));
    });
    choice<Action>(
        "Action of this case", "case-action", "Set the action of a case",
        [this](const Model& m) {
            const LoadCase* c = find_id(m.loads.cases, desk_->load_case);
            return c ? c->action : Action::permanent;
        },
        [this](Model& m, Action v) {
            if (LoadCase* c = find_id(m.loads.cases, desk_->load_case)) c->action = v;
        });
    field(
        "Load on the whole slab", Dimension::pressure, "slab-load", "Load the whole slab",
        [this](const Model& m) {
            double p = 0;
            if (const LoadCase* c = find_id(m.loads.cases, desk_->load_case))
                for (const LoadItem& i : c->items)
                    if (auto* l = std::get_if<SlabLoad>(&i.load)) p += l->p;
            return std::optional(p);
        },
        [this](Model& m, std::optional<double> v) {
            LoadCase* c = find_id(m.loads.cases, desk_->load_case);
            if (!c) return;
            std::erase_if(c->items, [](const LoadItem& i) { return std::holds_alternative<SlabLoad>(i.load); });
            if (*v != 0) c->items.push_back({SlabLoad{*v}, {}});
        },
        {-1e4, 1e4, false, false, {}});
    auto* row = new QHBoxLayout;
    auto push = [&](const QString& text, const QString& name, auto deed) {
        auto* b = new QPushButton(text);
        b->setObjectName(name);
        row->addWidget(b);
        connect(b, &QPushButton::clicked, this, deed);
    };
    push("Add a case", "add-case", [this] {
        Model m = desk_->now();
        std::vector<std::string> taken;
        for (const LoadCase& c : m.loads.cases) taken.push_back(c.id);
        LoadCase c;
        c.id = fresh_id("L", taken), c.title = "New case", c.action = Action::imposed;
        desk_->load_case = c.id;
        m.loads.cases.push_back(c);
        desk_->document()->apply("Add a case", std::move(m));
    });
    push("Delete this case", "delete-case", [this] {
        Model m = desk_->now();
        std::erase_if(m.loads.cases, [&](const LoadCase& c) { return c.id == desk_->load_case; });
        if (m.loads.combinations)
            for (Combination& k : *m.loads.combinations) k.factors.erase(desk_->load_case);
        desk_->document()->apply("Delete case " + QString::fromStdString(desk_->load_case), std::move(m));
    });
    row->addStretch(1);
    box_->addLayout(row);

    heading("Combinations", "a row each, factors in the cells");
    QStringList heads{"", "for"};
    for (const LoadCase& c : desk_->now().loads.cases) heads << QString::fromStdString(c.id);
    heads << "kPa"
          << "%";
    combinations_ = table(int(heads.size()), heads, "combinations");
    for (int c = 0; c < heads.size(); ++c)
        combinations_->horizontalHeader()->setSectionResizeMode(c, QHeaderView::ResizeToContents);
    combinations_->horizontalHeader()->setMinimumSectionSize(22);
    refreshers_.push_back([this] { fill_combinations(); });
    live(
        [this] {
            const Answer* a = desk_->answer().get();
            const bool any = a && std::any_of(a->combinations.begin(), a->combinations.end(),
                                              [](const CombinationAnswer& c) { return c.yield_ratio > 0; });
            return any ? QString("y: in part of the base the ground yields; Contact says in how much.") : QString();
        },
        "yield-words");
    connect(combinations_, &QTableWidget::cellClicked, this, [this](int r, int) {
        if (desk_->now().loads.combinations && r < int(desk_->now().loads.combinations->size()))
            desk_->choose_combination((*desk_->now().loads.combinations)[size_t(r)].id);
    });
    connect(combinations_, &QTableWidget::cellChanged, this, [this](int r, int column) {
        if (filling_ || !desk_->now().loads.combinations) return;
        Model m = desk_->now();
        Combination& k = (*m.loads.combinations)[size_t(r)];
        const int n_cases = int(m.loads.cases.size());
        const QString text = combinations_->item(r, column)->text().trimmed();
        if (column == 0) {
            if (text.isEmpty() || find_id(*m.loads.combinations, text.toStdString()))
                desk_->say("A combination needs a name of its own.", true), refresh();
            else
                k.id = text.toStdString(), desk_->document()->apply("Name a combination", std::move(m));
        } else if (column == 1) {
            if (const auto purpose = from_word<Purpose>(text.toStdString()))
                k.purpose = *purpose, desk_->document()->apply("Set the purpose of a combination", std::move(m));
            else
                desk_->say("A combination is for service, strength, stability or trace.", true), refresh();
        } else if (column < 2 + n_cases) {
            QString why;
            const auto v = text.isEmpty() ? std::optional(0.0) : read_number(text, Dimension::none, &why);
            if (!v) {
                desk_->say("The factor is not taken: " + why + ".", true);
                return refresh();
            }
            const std::string id = m.loads.cases[size_t(column - 2)].id;
            if (*v == 0)
                k.factors.erase(id);
            else
                k.factors[id] = *v;
            desk_->document()->apply("Set a factor of " + QString::fromStdString(k.id), std::move(m));
        }
    });
    auto* row2 = new QHBoxLayout;
    auto push2 = [&](const QString& text, const QString& name, auto deed) {
        auto* b = new QPushButton(text);
        b->setObjectName(name);
        row2->addWidget(b);
        connect(b, &QPushButton::clicked, this, deed);
    };
    push2("Add a row", "add-combination", [this] {
        Model m = desk_->now();
        if (!m.loads.combinations) m.loads.combinations.emplace();
        std::vector<std::string> taken;
        for (const Combination& c : *m.loads.combinations) taken.push_back(c.id);
        Combination c;
        if (const Combination* k = find_id(*m.loads.combinations, desk_->combination_id)) c = *k;
        c.id = fresh_id(c.purpose == Purpose::strength ? "U" : c.purpose == Purpose::stability ? "T" : "S", taken);
        m.loads.combinations->push_back(c);
        desk_->document()->apply("Add combination " + QString::fromStdString(c.id), std::move(m));
    });
    push2("Delete this row", "delete-combination", [this] {
        Model m = desk_->now();
        if (!m.loads.combinations) return;
        std::erase_if(*m.loads.combinations, [&](const Combination& c) { return c.id == desk_->combination_id; });
        desk_->document()->apply("Delete combination " + QString::fromStdString(desk_->combination_id), std::move(m));
    });
    row2->addStretch(1);
    box_->addLayout(row2);
}

void Tray::fill_combinations() {
    QTableWidget* t = combinations_;
    const Model& m = desk_->now();
    const std::vector<Combination> all = m.loads.combinations.value_or(std::vector<Combination>{});
    t->setRowCount(int(all.size()));
    const int n = int(m.loads.cases.size());
    for (int r = 0; r < int(all.size()); ++r) {
        const Combination& k = all[size_t(r)];
        QTableWidgetItem* id = cell(t, r, 0, QString::fromStdString(k.id), true, false);
        QFont f = look::font(look::Size::small, k.id == desk_->combination_id);
        id->setFont(f);
        id->setToolTip(QString::fromStdString(k.title));
        cell(t, r, 1, name_of(k.purpose), true, false);
        for (int c = 0; c < n; ++c) {
            const auto it = k.factors.find(m.loads.cases[size_t(c)].id);
            cell(t, r, 2 + c, it == k.factors.end() || it->second == 0 ? "" : plain(it->second), true);
        }
        const CombinationAnswer* a = desk_->answer() ? desk_->answer()->find(k.id) : nullptr;
        cell(t, r, 2 + n,
             a && a->is_solved() ? look::number(a->max_pressure, 0) + (a->yield_ratio > 0 ? " y" : "")
             : a                 ? QString::fromUtf8(name_of(a->ending))
                                 : "",
             false);
        cell(t, r, 3 + n, a && a->is_solved() ? look::number(100 * a->contact_ratio, 0) : "", false);
    }
    fit_height(t);
}

void Tray::build_columns() {
    const std::set<std::string> ids = ids_of(desk_->chosen, ThingKind::column);
    const std::string first = *ids.begin();
    auto each = [ids](Model& m, auto f) {
        for (Column& c : m.columns)
            if (ids.count(c.id)) f(c);
    };
    auto get = [first](auto f) {
        return [first, f](const Model& m) -> std::optional<double> {
            const Column* c = find_id(m.columns, first);
            return c ? std::optional(f(*c)) : std::nullopt;
        };
    };
    const bool one = ids.size() == 1;
    heading(one ? "Column " + QString::fromStdString(first) : QString("%1 columns").arg(ids.size()),
            one ? "" : "edited together");
    if (one) {
        field("Position x", Dimension::length, "column-x", "Move column " + QString::fromStdString(first),
              get([](const Column& c) { return c.at.x; }),
              [each](Model& m, std::optional<double> v) { each(m, [&](Column& c) { c.at.x = *v; }); });
        field("Position y", Dimension::length, "column-y", "Move column " + QString::fromStdString(first),
              get([](const Column& c) { return c.at.y; }),
              [each](Model& m, std::optional<double> v) { each(m, [&](Column& c) { c.at.y = *v; }); });
    }
    choice<ColumnShape>(
        "Shape", "column-shape", "Set the shape",
        [first](const Model& m) {
            const Column* c = find_id(m.columns, first);
            return c ? c->shape : ColumnShape::rectangle;
        },
        [each](Model& m, ColumnShape v) {
            each(m, [&](Column& c) {
                c.shape = v;
                if (v == ColumnShape::circle)
                    c.size.resize(1);
                else if (c.size.size() < 2)
                    c.size.push_back(c.size[0]);
            });
        });
    field("Size along x, or diameter", Dimension::length, "column-size-x", "Set the footprint",
          get([](const Column& c) { return c.size[0]; }),
          [each](Model& m, std::optional<double> v) { each(m, [&](Column& c) { c.size[0] = *v; }); },
          {0, 20, true, false, {}});
    field("Size along y", Dimension::length, "column-size-y", "Set the footprint",
          get([](const Column& c) { return c.size.back(); }),
          [each](Model& m, std::optional<double> v) {
              each(m, [&](Column& c) {
                  if (c.size.size() > 1) c.size[1] = *v;
              });
          },
          {0, 20, true, false, {}});
    field("Turned by", Dimension::angle, "column-angle", "Turn the column",
          get([](const Column& c) { return c.angle; }),
          [each](Model& m, std::optional<double> v) { each(m, [&](Column& c) { c.angle = *v; }); },
          {-360, 360, false, false, {}});
    field("Pedestal height", Dimension::length, "column-pedestal", "Set the pedestal",
          get([](const Column& c) { return c.pedestal_height; }),
          [each](Model& m, std::optional<double> v) { each(m, [&](Column& c) { c.pedestal_height = *v; }); },
          {0, 50, false, false, {}});
    if (one) {
        heading("Loads", "kN, kN·m");
        column_loads_ = table(6, {"case", "N", "Mx", "My", "Hx", "Hy"}, "column-loads");
        column_loads_->horizontalHeaderItem(0)->setTextAlignment(Qt::AlignLeft | Qt::AlignVCenter);
        for (int c = 0; c < 6; ++c) column_loads_->horizontalHeader()->setSectionResizeMode(c, QHeaderView::Stretch);
        refreshers_.push_back([this] { fill_column_loads(); });
        connect(column_loads_, &QTableWidget::cellChanged, this, [this, first](int r, int column) {
            if (filling_ || column == 0) return;
            QString why;
            const QString text = column_loads_->item(r, column)->text().trimmed();
            const auto v =
                text.isEmpty()
                    ? std::optional(0.0)
                    : read_number(text, column <= 1 || column >= 4 ? Dimension::force : Dimension::moment, &why);
            if (!v) {
                desk_->say("The load is not taken: " + why + ".", true);
                return refresh();
            }
            Model m = desk_->now();
            ColumnLoad& l = column_load(m, m.loads.cases[size_t(r)].id, first);
            (column == 1 ? l.N : column == 2 ? l.Mx : column == 3 ? l.My : column == 4 ? l.Hx : l.Hy) = *v;
            desk_->document()->apply("Load column " + QString::fromStdString(first), std::move(m));
        });
        words(
            "N presses down; moments turn about +x and +y by the right-hand rule; H acts at the top of the pedestal or "
            "slab.");
        live(
            [this, first] {
                for (const Row& r : desk_->rows())
                    if (r.id == "punching" && r.item == first)
                        return r.utilisation ? bold("Punching " + look::number(*r.utilisation, 2)) + " · " +
                                                   QString::fromStdString(r.combination)
                                             : bold("Punching not checked") + " · " + QString::fromStdString(r.note);
                return QString();
            },
            "column-punching");
    }
    button(one ? "Delete this column" : "Delete these columns", "delete-columns", [this, ids] {
        desk_->document()->apply(ids.size() == 1 ? "Delete column " + QString::fromStdString(*ids.begin())
                                                 : QString("Delete %1 columns").arg(ids.size()),
                                 without_columns(desk_->now(), {ids.begin(), ids.end()}));
    });
}

void Tray::fill_column_loads() {
    const Thing* column = only_one(desk_->chosen, ThingKind::column);
    if (!column) return;
    const Model& m = desk_->now();
    column_loads_->setRowCount(int(m.loads.cases.size()));
    for (int r = 0; r < int(m.loads.cases.size()); ++r) {
        const ColumnLoad l = column_load(m, m.loads.cases[size_t(r)].id, column->id);
        cell(column_loads_, r, 0, QString::fromStdString(m.loads.cases[size_t(r)].id), false, false)
            ->setToolTip(QString::fromStdString(m.loads.cases[size_t(r)].title));
        int c = 1;
        for (double v : {l.N, l.Mx, l.My, l.Hx, l.Hy}) cell(column_loads_, r, c++, v == 0 ? "0" : plain(v), true);
    }
    fit_height(column_loads_);
}

void Tray::build_contact() {
    heading("Contact");
    live(
        [this] {
            const CombinationAnswer* c = desk_->combination();
            if (!c) return QString("No answer yet.");
            QString head = bold(QString::fromStdString(c->combination.id)) +
                           (c->combination.title.empty() ? "" : " · " + QString::fromStdString(c->combination.title)) +
                           " · " + QString(name_of(c->combination.purpose));
            if (!c->is_solved())
                return head + "<br>" + bold(QString::fromUtf8(name_of(c->ending))) + ": " +
                       QString::fromStdString(c->explanation).toHtmlEscaped();
            auto line = [](const QString& name, const QString& value) {
                return "<tr><td style='padding-right:14px'>" + name + "</td><td align='right'>" + value + "</td></tr>";
            };
            double most = -1e300, least = 1e300;
            for (int i = 0; i < int(desk_->answer()->mesh.nodes.size()); ++i)
                most = std::max(most, c->settlement(i)), least = std::min(least, c->settlement(i));
            return head + "<table cellspacing='0' cellpadding='2'>" +
                   line("largest pressure", look::with_unit(c->max_pressure, "kPa")) +
                   (c->yield_ratio > 0
                        ? line("base at the yield pressure", QString::fromStdString(share_in_words(c->yield_ratio)))
                        : QString()) +
                   line("smallest pressure", look::with_unit(c->min_pressure, "kPa")) +
                   line("base in contact", look::number(100 * c->contact_ratio, 1) + " %") +
                   line("largest settlement", look::with_unit(1000 * most, "mm")) +
                   line("smallest settlement", look::with_unit(1000 * least, "mm")) +
                   line("all loads, down", look::with_unit(c->applied.Fz, "kN")) +
                   line("ground, up", look::with_unit(c->ground_reaction.Fz, "kN")) +
                   line("they land at", c->applied.Fz > 0 ? QString("%1, %2 m")
                                                                .arg(look::number(c->applied.landing().x, 2),
                                                                     look::number(c->applied.landing().y, 2))
                                                          : "–") +
                   line("equilibrium error",
                        c->equilibrium_error < 1e-15 ? "below 1e-15" : QString::number(c->equilibrium_error, 'e', 1)) +
                   "</table>";
        },
        "contact-facts");
    words("Drag a rim or a corner of the slab: the pressures follow.");
}

void Tray::build_shear() {
    heading("Punching", QString::fromStdString(desk_->now().settings.design_code));
    live(
        [this] {
            QString t =
                "<table cellspacing='0' cellpadding='2'><tr><td></td><td align='right'>use&nbsp;</td><td "
                "align='right'>V&nbsp;</td><td align='right'>relief&nbsp;</td><td align='right'>β</td></tr>";
            const Answer* a = desk_->answer().get();
            for (const Row& r : desk_->rows()) {
                if (r.id != "punching") continue;
                const PunchingAnswer* p = nullptr;
                if (a)
                    for (const PunchingAnswer& q : a->punching)
                        if (q.id == r.item) p = &q;
                t += "<tr><td style='padding-right:10px'>" + QString::fromStdString(r.item) +
                     "</td><td align='right'>" +
                     (r.utilisation ? (r.status == Status::over ? bold(look::number(*r.utilisation, 2))
                                                                : look::number(*r.utilisation, 2))
                                    : bold("not checked")) +
                     "&nbsp;&nbsp;</td>";
                if (p)
                    t += "<td align='right'>" + look::number(p->V, 0) + "&nbsp;&nbsp;</td><td align='right'>" +
                         look::number(p->relief, 0) + "&nbsp;&nbsp;</td><td align='right'>" +
                         (p->beta ? look::number(*p->beta, 2) : "–") + "</td>";
                t += "</tr>";
            }
            return t + "</table>";
        },
        "punching-table");
    words(
        "V comes down the column, relief pushes back inside the perimeter, both kN. The outlines in the plan are the "
        "governing perimeters.");
}

void Tray::build_steel() {
    heading("Base bars", QString::fromStdString(desk_->now().steel.steel));
    words("Left empty, the least that passes is chosen from the sizes and spacings. mm.");
    tick(
        "Twisting moments reach the bars (mx ± |mxy|)", "twisting", "Twisting",
        [](const Model& m) { return m.steel.twisting; },
        [](Model& m, bool on) { m.steel.twisting = on, m.steel.keys["twisting"] = ""; });
    for (Face f : {Face::bottom, Face::top})
        for (Direction d : {Direction::x, Direction::y}) {
            const QString name = QString("%1-%2").arg(name_of(f), name_of(d)),
                          shown = QString("%1 %2").arg(f == Face::top ? "Top" : "Bottom", name_of(d));
            live(
                [this, f, d, shown] {
                    const Answer* a = desk_->answer().get();
                    if (!a || a->coarse) return bold(shown);
                    const ChosenBars& b = a->steel.base(f, d);
                    if (b.diameter <= 0) return bold(shown);
                    return bold(shown) + QString(" · ϕ%1 at %2 · %3 mm²/m · %4")
                                             .arg(look::number(b.diameter, 0), look::number(b.spacing, 0),
                                                  look::number(b.area(), 0),
                                                  b.chosen ? (b.fits ? "chosen" : "<b>nothing fits</b>") : "yours");
                },
                qPrintable("bars-" + name));
            auto* pair = new QHBoxLayout;
            pair->setSpacing(10);
            for (bool size : {true, false}) {
                Field* one = field(
                    size ? "ϕ" : "at", Dimension::millimetres, (size ? "bar-" : "spacing-") + name,
                    "Set bars " + shown.toLower(),
                    [f, d, size](const Model& m) {
                        return size ? m.steel.base(f, d).diameter : m.steel.base(f, d).spacing;
                    },
                    [this, f, d, size](Model& m, std::optional<double> v) {
                        Bars& b = m.steel.base(f, d);
                        if (!v) {
                            b = {};
                            return;
                        }
                        (size ? b.diameter : b.spacing) = v;
                        // the other of the two starts from what was chosen
                        const ChosenBars c = desk_->answer() ? desk_->answer()->steel.base(f, d) : ChosenBars{};
                        if (!b.diameter) b.diameter = c.diameter > 0 ? c.diameter : 16;
                        if (!b.spacing) b.spacing = c.spacing > 0 ? c.spacing : 200;
                    },
                    {0, 1000, true, true, {}});
                one->make_short();
                box_->removeWidget(one);
                pair->addWidget(one);
            }
            pair->addStretch(1);
            box_->addLayout(pair);
        }
    heading("Cover", "mm");
    field(
        "Top", Dimension::millimetres, "cover-top", "Set the top cover",
        [](const Model& m) { return std::optional(m.steel.cover_top); },
        [](Model& m, std::optional<double> v) { m.steel.cover_top = *v, m.steel.keys["cover_top"] = ""; },
        {0, 300, false, false, owned(&Model::steel, "cover_top")});
    field(
        "Bottom", Dimension::millimetres, "cover-bottom", "Set the bottom cover",
        [](const Model& m) { return std::optional(m.steel.cover_bottom); },
        [](Model& m, std::optional<double> v) { m.steel.cover_bottom = *v, m.steel.keys["cover_bottom"] = ""; },
        {0, 300, false, false, owned(&Model::steel, "cover_bottom")});
}

void Tray::build_sheets() {
    heading("Sheets");
    words(
        "Drawings and the calculation document are not built yet. The results file of the command line carries every "
        "number: mossbed-cli solve MODEL --out FILE.");
}

}  // namespace mossbed
