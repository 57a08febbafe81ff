// Contact, shear, steel, sheets.
#include <QComboBox>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QRegularExpression>

#include "app/skyline.h"
#include "app/small_maps.h"
#include "app/tray/pages.h"
#include "app/tray/parts.h"
#include "core/base/turned_box.h"
#include "core/codes/materials.h"
#include "core/steel/extra_along.h"
#include "draw/render.h"
#include "drawing/least_chart.h"

namespace mossbed {

void ContactPage::build() {
    heading("Contact");
    box_->addWidget(new Skyline(desk_));
    result([this] { return facts_of_view(*desk_); }, "contact-facts");
    words("Drag a rim or a corner of the slab: the pressures follow.");
    box_->addWidget(small_maps(desk_));
    box_->addStretch(1);
}

// Of an envelope: the worst of all its rows, each with the row that it is of.
namespace {
QString facts_of_all(const Desk& desk) {
    const Purpose purpose = desk.envelope()->purpose;
    const CombinationSummary *pressed = nullptr, *least = nullptr, *settled = nullptr;
    int n = 0, without = 0;
    for (const CombinationSummary& s : desk.summaries()) {
        const Combination* c = find_id(desk.combinations(), s.id);
        if (!c || c->purpose != purpose) continue;
        ++n;
        if (s.ending != Ending::solved) {
            ++without;
            continue;
        }
        if (!pressed || s.max_pressure > pressed->max_pressure) pressed = &s;
        if (!least || s.contact_ratio < least->contact_ratio) least = &s;
        if (!settled || s.max_settlement > settled->max_settlement) settled = &s;
    }
    QString t = bold(desk.name_of_view()) + " · " + count_of(size_t(n), "row") +
                (without ? QString(", %1 without equilibrium").arg(without) : QString());
    if (!pressed) return t;
    auto line = [](const QString& name, const QString& value, const CombinationSummary* by) {
        return "<tr><td style='padding-right:14px'>" + name + "</td><td align='right'>" + value +
               "</td><td style='padding-left:14px'>" + q(by->id) + "</td></tr>";
    };
    t += "<table cellspacing='0' cellpadding='2'>";
    t += line("largest pressure", look::with_unit(pressed->max_pressure, "kPa"), pressed);
    t += line("least in contact", look::number(100 * least->contact_ratio, 1) + " %", least);
    t += line("largest settlement", look::with_unit(1000 * settled->max_settlement, "mm"), settled);
    return t + "</table>";
}
}  // namespace

QString facts_of_view(const Desk& desk) {
    if (desk.envelope()) return facts_of_all(desk);
    const CombinationAnswer* c = desk.combination();
    if (!c) return "No answer yet.";
    const QString head = bold(q(c->combination.id)) +
                         (c->combination.title.empty() ? "" : " · " + q(c->combination.title)) + " · " +
                         QString(name_of(c->combination.purpose));
    if (!c->is_solved())
        return head + "<br>" + bold(QString::fromUtf8(name_of(c->ending))) + ": " + q(c->explanation).toHtmlEscaped();
    auto line = [](const QString& name, const QString& value) {
        return "<tr><td style='padding-right:14px'>" + name + "</td><td align='right'>" + value + "</td></tr>";
    };
    const auto [least, most] = range_of_settlement(*desk.answer(), *c);
    QString t = head + "<table cellspacing='0' cellpadding='2'>";
    t += line("largest pressure", look::with_unit(c->max_pressure, "kPa"));
    if (c->yield_ratio > 0) t += line("base at the yield pressure", q(share_in_words(c->yield_ratio)));
    t += line("smallest pressure", look::with_unit(c->min_pressure, "kPa"));
    t += line("base in contact", look::number(100 * c->contact_ratio, 1) + " %");
    t += line("largest settlement", look::with_unit(1000 * std::max(most, 0.0), "mm"));
    t += least < 0 ? line("largest rise", look::with_unit(-1000 * least, "mm"))
                   : line("smallest settlement", look::with_unit(1000 * least, "mm"));
    // What balances is printed alike, wherever its half falls.
    const double down = c->applied.Fz, up = c->ground_reaction.Fz;
    t += line("all loads, down", look::with_unit(down, "kN"));
    t += line("ground, up", look::with_unit(std::abs(up - down) < 1e-6 * std::abs(down) ? down : up, "kN"));
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
    result([this] { return worst(); }, "punching-summary");
    buttons({{"Table of all", "punching-table-wanted", [this] { Q_EMIT punching_wanted(); }}});
    words(
        "A click on a column or a wall shows how it is punched: what comes down, what pushes back inside the "
        "perimeter, "
        "the stress round it, every combination, and what would mend it. In the plan the governing perimeters: the "
        "heavier the line, the nearer to its limit; over it, hatched; dotted is not checked.");
    box_->addStretch(1);
}

// The worst few, and how many pass, are over, are not checked.
QString ShearPage::worst() const {
    int pass = 0, over = 0, open = 0;
    QString t = "<table cellspacing='0' cellpadding='2'>";
    int n = 0;
    for (const Row& r : desk_->rows()) {
        if (r.id != "punching") continue;
        (r.status == Status::pass ? pass : r.status == Status::over ? over : open) += 1;
        if (n >= 6 || r.status == Status::not_checked) continue;
        ++n;
        const QString use = r.utilisation ? look::number(*r.utilisation, 2) : "over";
        t += "<tr><td style='padding-right:14px'>" + name_of_group(r.item) +
             "</td><td align='right' style='padding-right:14px'>" +
             (desk_->is_behind(r)        ? faded(use)
              : r.status == Status::over ? bold(use)
                                         : use) +
             "</td><td>" + q(r.combination) + "</td></tr>";
    }
    if (pass + over + open == 0 && desk_->answer() && desk_->answer()->coarse)
        return "Not judged yet: the full answer follows.";
    QStringList counts{look::number(pass, 0) + " pass"};
    if (over) counts << bold(look::number(over, 0) + " over");
    if (open) counts << bold(look::number(open, 0) + " not checked");
    return counts.join(" · ") + t + "</table>";
}

void SteelPage::build() {
    least();
    heading("Base bars", q(now().steel.steel));
    words("Left empty, the least that passes everywhere is chosen from the sizes and spacings. mm.");
    choice("steel/designed_by", {.name = "designed-by", .deed = "Choose what bars are designed by"},
           {"strips", "moments by points"});
    field("steel/averaged_over", {.name = "averaged-over", .deed = "Set the width moments are averaged over"});
    tick("steel/twisting", {.deed = "Twisting"});
    field("steel/angle", {.name = "steel-angle", .deed = "Turn the bars"});
    for (Face f : {Face::bottom, Face::top})
        for (Direction d : {Direction::x, Direction::y}) bars(f, d);
    heading("Extra bars");
    result([this] { return extra_of_mat(); }, "extra-bars");
    button("Lay them where this strip is short", "extra-along", [this] { lay_extra_along(); });
    heading("Weight");
    result([this] { return weights(); }, "bar-weights");
    field("steel/stock_length", {.name = "stock-length", .deed = "Set the stock length"});
    heading("Cover", "to the outermost bar");
    field("steel/cover_top", {.deed = "Set the top cover"});
    field("steel/cover_bottom", {.deed = "Set the bottom cover"});
    strips();
    materials();
    box_->addStretch(1);
}

namespace {

// Weight over number of groups, the lightest of each number to be clicked.
class ChartOfLeast : public QWidget {
  public:
    explicit ChartOfLeast(Desk* desk) : desk_(desk) {
        setObjectName("least-chart");
        setFixedHeight(int(least_chart_height));
        setCursor(Qt::PointingHandCursor);
        setToolTip("a dot clicked: bars put together of no more groups than that");
    }

  protected:
    void paintEvent(QPaintEvent*) override {
        if (!desk_->least_steel) return;
        QPainter painter(this);
        paint_drawing(painter, chart().drawing, bare_paper(), rect());
    }
    void mousePressEvent(QMouseEvent* e) override {
        if (!desk_->least_steel) return;
        const LeastChart::Spot* nearest = nullptr;
        double least = 14;
        const LeastChart c = chart();
        for (const LeastChart::Spot& s : c.spots)
            if (const double off = std::hypot(s.at.x - e->position().x(), s.at.y - e->position().y()); off < least)
                least = off, nearest = &s;
        if (nearest) desk_->seek_least_steel(nearest->groups);
    }

  private:
    LeastChart chart() const { return least_chart(*desk_->least_steel, from_qt(QRectF(rect()))); }
    Desk* desk_;
};

QString words_of_list(const std::vector<double>& list) {
    QStringList all;
    for (double v : list) all << plain(v);
    return all.join(" ");
}

}  // namespace

void SteelPage::least() {
    heading("Least that passes", "base and extra bars together");
    auto* ask = new QPushButton("Put bars together");
    ask->setObjectName("seek-least-steel");
    connect(ask, &QPushButton::clicked, this, [this] { desk_->seek_least_steel(); });
    auto* chart = new ChartOfLeast(desk_);
    auto* take = new QPushButton;
    take->setObjectName("take-least-steel");
    take->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    connect(take, &QPushButton::clicked, this, [this] { desk_->take_least_steel(); });
    box_->addWidget(ask);
    box_->addWidget(chart);
    box_->addWidget(take);
    live(
        [this]() -> QString {
            if (!desk_->least_steel_report.isEmpty()) return desk_->least_steel_report;
            if (!desk_->least_steel) return {};
            const LeastSteel& found = *desk_->least_steel;
            QStringList lines;
            if (found.uniform_kg)
                lines << QString("%1 t with base bars alone; %2 % less.")
                             .arg(look::number(*found.uniform_kg / 1000, 1),
                                  look::number(100 * (1 - found.scheme().kg / *found.uniform_kg), 0));
            if (!found.left.empty()) {
                QStringList left;
                for (const std::string& s : found.left) left << q(s);
                lines << bold("Over all the same: ") + left.join(", ") + ".";
            }
            return lines.join("<br>");
        },
        "least-steel-report");
    refreshers_.push_back([this, ask, chart, take] {
        const bool found = desk_->least_steel.has_value(), busy = desk_->least_steel_report.endsWith("…");
        ask->setVisible(!found);
        ask->setEnabled(!busy);
        chart->setVisible(found);
        chart->update();
        take->setVisible(found);
        take->setEnabled(!busy);
        if (found)
            take->setText(QString("Take %1 groups, %2 t")
                              .arg(desk_->least_steel->scheme().groups())
                              .arg(look::number(desk_->least_steel->scheme().kg / 1000, 1)));
    });
    field("steel/most_marks", {.name = "most-groups", .deed = "Set the most groups of bars"});
}

// At both faces of the strip in hand; one edit.
void SteelPage::lay_extra_along() {
    const StripAnswer* strip = desk_->strip();
    const auto code = make_code(now().settings);
    if (!strip || !code || !desk_->in_step()) return desk_->say("There is no strip with an answer in step.");
    const QString name = "Strip " + q(strip->strip.id);
    Model m = now();
    for (Face f : {Face::bottom, Face::top}) {
        const ExtraAlong found =
            extra_along(m, *code, answer()->steel, size_t(strip - answer()->steel.strips.data()), f);
        if (!found.why.empty()) return refuse(QString("%1 %2 (%3).").arg(name, q(found.why), name_of(f)));
        m.steel.extra.insert(m.steel.extra.end(), found.bars.begin(), found.bars.end());
    }
    const size_t more = m.steel.extra.size() - now().steel.extra.size();
    if (more == 0) return desk_->say(name + " has enough at both faces.");
    desk_->apply_sound(QString("Lay extra bars along strip %1").arg(q(strip->strip.id)), std::move(m));
}

// Those of the face and direction looked at, else all.
QString SteelPage::extra_of_mat() const {
    const bool one = is_of_bars(desk_->quantity);
    QString t;
    int others = 0;
    for (const ExtraBars& e : now().steel.extra) {
        if (one && (e.face != desk_->bars_face || e.direction != desk_->bars_direction)) {
            ++others;
            continue;
        }
        const Box b = box_along(e.outline, along_bars(now().steel, e.direction));
        t += "<tr><td style='padding-right:12px'>" + bold(q(e.id)) + "</td><td style='padding-right:12px'>" +
             (one ? QString() : QString("%1 %2 · ").arg(name_of(e.face), name_of(e.direction))) +
             QString("ϕ%1 at %2").arg(look::number(e.diameter, 0), look::number(e.spacing, 0)) + "</td><td>" +
             QString("%1 × %2 m").arg(look::number(b.width(), 1), look::number(b.height(), 1)) + "</td></tr>";
    }
    const QString head =
        one ? QString("%1 along %2").arg(name_of(desk_->bars_face), name_of(desk_->bars_direction)) : "";
    if (t.isEmpty() && others == 0) return "none";
    return head + (t.isEmpty() ? ": none" : "<table cellspacing='0' cellpadding='1'>" + t + "</table>") +
           (others ? QString("%1 of other faces or directions").arg(others) : QString());
}

// By kind, laps and all.
QString SteelPage::weights() const {
    const LaidBars& list = desk_->bars();
    if (list.marks.empty()) return "–";
    const double m3 = answer() ? answer()->steel.concrete_m3 : 0;
    QString t = "<table cellspacing='0' cellpadding='1'>";
    auto line = [&](const QString& name, double kg, bool strong) {
        auto cell = [&](const QString& value) {
            return "<td align='right' style='padding-right:14px'>" + (strong ? bold(value) : value) + "</td>";
        };
        t += "<tr><td style='padding-right:14px'>" + (strong ? bold(name) : name) + "</td>" +
             cell(look::number(kg, 0) + " kg") + (m3 > 0 ? cell(look::number(kg / m3, 1) + " kg/m³") : "") + "</tr>";
    };
    for (BarKind k : {BarKind::base, BarKind::extra, BarKind::at_rim, BarKind::trimmer, BarKind::link, BarKind::chair})
        if (const double kg = list.kg(k); kg > 0) line(name_of(k), kg, false);
    line("all, with laps", list.kg(), true);
    t += "</table>";
    if (m3 > 0) t += "in " + look::number(m3, 0) + " m³ of concrete";
    return t;
}

// The class of the steel, and the sizes and spacings that bars are chosen from.
void SteelPage::materials() {
    heading("Steel and bar list", q(now().settings.design_code));
    auto combo = [&](const QString& label, const QString& name, const QStringList& items) {
        auto* row = new QHBoxLayout;
        auto* c = new QComboBox;
        c->setObjectName(name);
        c->setFixedWidth(154);
        c->addItems(items);
        row->addWidget(new QLabel(label), 1);
        row->addWidget(c);
        box_->addLayout(row);
        return c;
    };
    if (const auto code = make_code(now().settings)) {
        const std::vector<Steel> classes = code->steel_classes();
        QStringList names;
        for (const Steel& s : classes) names << q(s.id);
        QComboBox* c = combo("Class", "steel-class", names);
        refreshers_.push_back([this, c, classes] {
            int at = -1;
            const Steel* s = find_id(now().steels, now().steel.steel);
            for (size_t k = 0; s && k < classes.size(); ++k)
                if (classes[k].fyk == s->fyk) at = int(k);
            c->setCurrentIndex(at);
            c->setPlaceholderText(q(now().steel.steel));
        });
        connect(c, &QComboBox::activated, this, [this, classes](int i) {
            edit("Choose " + q(classes[size_t(i)].id), [&](Model& m) { choose_steel(m, classes[size_t(i)]); });
        });
    }
    field(path("steels", now().steel.steel, "fyk"), {.label = "Strength fyk", .deed = "Set the steel's strength"});
    QStringList regions;
    for (const BarList& l : bar_lists()) regions << l.name;
    QComboBox* c = combo("Bars of", "bar-list", regions);
    c->setPlaceholderText("own list");
    refreshers_.push_back([this, c] {
        int at = -1;
        for (size_t k = 0; k < bar_lists().size(); ++k)
            if (bar_lists()[k].sizes == now().steel.sizes && bar_lists()[k].spacings == now().steel.spacings)
                at = int(k);
        c->setCurrentIndex(at);
    });
    connect(c, &QComboBox::activated, this, [this](int i) {
        edit(QString("Choose bars: %1").arg(bar_lists()[size_t(i)].name), [&](Model& m) {
            m.steel.sizes = bar_lists()[size_t(i)].sizes, m.steel.spacings = bar_lists()[size_t(i)].spacings;
            m.steel.keys["sizes"] = "", m.steel.keys["spacings"] = "";
        });
    });
    number_list("Sizes, mm", "bar-sizes", &Reinforcement::sizes);
    number_list("Spacings, mm", "bar-spacings", &Reinforcement::spacings);
}

// Numbers with blanks between, in order; other units and sums as everywhere.
void SteelPage::number_list(const QString& label, const QString& name, std::vector<double> Reinforcement::*list) {
    auto* row = new QHBoxLayout;
    auto* line = new Line;
    line->setObjectName(name);
    row->addWidget(new QLabel(label));
    row->addWidget(line, 1);
    box_->addLayout(row);
    refreshers_.push_back([this, line, list] { line->show_text(words_of_list(now().steel.*list)); });
    line->on_take = [this, line, list, label](bool leaving) {
        std::set<double> values;
        QString why;
        for (const QString& word : line->text().split(QRegularExpression("[\\s;]+"), Qt::SkipEmptyParts)) {
            const auto v = read_number(word, Unit::millimetre, &why);
            if (v && (*v < 3 || *v > 1000)) why = "“" + word + "” is out of reason: 3 to 1000 mm";
            if (!why.isEmpty()) break;
            values.insert(*v);
        }
        if (why.isEmpty() && values.empty()) why = "at least one is needed";
        if (!why.isEmpty()) {
            const QString said = QString("%1: “%2” is not taken: %3.").arg(label, line->text(), why);
            if (leaving) line->give_up();
            desk_->say(said, true);
            return said;
        }
        line->show_text(line->text());
        edit("Set the bar list", [&](Model& m) {
            m.steel.*list = {values.begin(), values.end()};
            m.steel.keys[list == &Reinforcement::sizes ? "sizes" : "spacings"] = "";
        });
        return QString();
    };
    connect(line, &QLineEdit::editingFinished, line, [line] { line->hasFocus() ? line->settle() : line->leave(); });
}

void SteelPage::bars(Face f, Direction d) {
    const QString shown = QString("%1 %2").arg(f == Face::top ? "Top" : "Bottom", name_of(d));
    result(
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
