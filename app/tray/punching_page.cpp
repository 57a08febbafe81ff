#include <QPainter>
#include <QPushButton>

#include "app/tray/pages.h"
#include "app/tray/parts.h"
#include "draw/render.h"
#include "drawing/punching_chart.h"
#include "drawing/tries_chart.h"

namespace mossbed {
namespace {

// The stress round the perimeter and every combination, as the drawing of it has them.
class ChartOfPunching : public QWidget {
  public:
    explicit ChartOfPunching(Desk* desk) : desk_(desk) {
        setObjectName("punching-chart");
        setFixedHeight(int(punching_chart_height));
    }

  protected:
    void paintEvent(QPaintEvent*) override {
        const PunchingAnswer* p = desk_->punching();
        if (!p) return;
        std::vector<std::string> names;
        for (const CombinationAnswer& c : as_listed(desk_->answer()->combinations)) names.push_back(c.combination.id);
        QPainter painter(this);
        Drawing d = punching_chart(*p, names, from_qt(QRectF(rect())));
        for (Mark& m : d.marks) m.faded = desk_->is_old();
        paint_drawing(painter, d, bare_paper(), rect());
    }

  private:
    Desk* desk_;
};

// What was tried for one mend: use over size.
class ChartOfTries : public QWidget {
  public:
    ChartOfTries(Desk* desk, size_t mend) : desk_(desk), mend_(mend) {
        setObjectName(QString("tries-%1").arg(mend));
        setFixedHeight(int(tries_chart_height));
    }

  protected:
    void paintEvent(QPaintEvent*) override {
        if (mend_ >= desk_->mends.size()) return;
        QPainter painter(this);
        paint_drawing(painter, tries_chart(desk_->mends[mend_], from_qt(QRectF(rect()))), bare_paper(), rect());
    }

  private:
    Desk* desk_;
    size_t mend_;
};

QString position_of(const PunchingAnswer& p) {
    const QString where = p.position == "wall-end"      ? "end of a wall"
                          : p.position == "wall-corner" ? "corner of a wall"
                                                        : q(p.position);
    return p.governs == "step" ? where + ", beyond the step" : p.governs == "face" ? where + ", at the face" : where;
}

}  // namespace

const Row* PunchingPage::row() const {
    for (const Row& r : desk_->rows())
        if (r.id == "punching" && r.item == item_) return &r;
    return nullptr;
}

void PunchingPage::build() {
    heading("Punching " + name_of_group(item_), q(now().settings.design_code));
    result([this] { return numbers(); }, "punching-numbers");
    auto* chart = new ChartOfPunching(desk_);
    box_->addWidget(chart);
    refreshers_.push_back([this, chart] {
        chart->setVisible(desk_->punching() != nullptr);
        chart->update();
    });
    buttons({{"Working", "punching-working",
              [this] {
                  if (const Row* r = row()) Q_EMIT working_wanted(r->key());
              }},
             {"Table of all", "punching-table-wanted", [this] { Q_EMIT punching_wanted(); }}});
    mends();
    column();
    box_->addStretch(1);
}

QString PunchingPage::numbers() const {
    const Row* r = row();
    if (!r) return {};
    const PunchingAnswer* p = desk_->punching();
    const QString use = r->utilisation ? bold("use " + look::number(*r->utilisation, 2)) + " · " + q(r->combination)
                                       : bold(r->status == Status::over ? "over" : "not checked");
    QString t = (desk_->is_behind(*r) ? faded(use) : use) + (r->note.empty() ? "" : "<br>" + q(r->note));
    if (!p) return t;
    auto line = [&](const QString& what, const QString& value) {
        t += "<tr><td style='padding-right:10px'>" + what + "</td><td align='right'>" + value + "</td></tr>";
    };
    auto kN = [](double v) { return look::number(v, 0); };
    t += "<table cellspacing='0' cellpadding='1' width='100%'>";
    line(p->V < 0 ? "pulls up with" : "comes down", kN(std::abs(p->V)) + " kN");
    if (const auto& f = p->force) {
        line("moments Mx · My", kN(f->Mx) + " · " + kN(f->My) + " kN·m");
        line("horizontal Hx · Hy", kN(f->Hx) + " · " + kN(f->Hy) + " kN");
    }
    const double pushed = p->V < 0 ? -p->relief : p->relief;
    line(pushed < 0 ? "adds inside" : "pushed back inside", kN(std::abs(pushed)) + " kN");
    line(QString("perimeter, %1 m off, %2").arg(look::number(p->a, 2), position_of(*p)),
         look::number(p->perimeter, 2) + " m");
    if (p->beta) line("moments, factor β", look::number(*p->beta, 3));
    line("stress / borne", look::number(p->v, 2) + " / " + look::number(p->v_limit, 2) + " MPa");
    if (p->face) line("at the face", look::number(p->face->v, 2) + " / " + look::number(p->face->v_limit, 2) + " MPa");
    return t + "</table>";
}

// Each mend found is a button: one edit.
void PunchingPage::mends() {
    heading("Least that passes");
    auto* ask = new QPushButton("Try sizes");
    ask->setObjectName("seek-mends");
    connect(ask, &QPushButton::clicked, this, [this] { desk_->seek_mends(); });
    box_->addWidget(ask);
    live([this] { return desk_->mends_of == item_ ? desk_->mends_report : QString(); }, "mends-report");
    constexpr size_t most = 5;
    for (size_t k = 0; k < most; ++k) {
        auto* take = new QPushButton;
        take->setObjectName(QString("mend-%1").arg(k));
        take->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);  // what it says makes no page wider
        connect(take, &QPushButton::clicked, this, [this, k] { desk_->take_mend(k); });
        auto* why = new QLabel;
        why->setWordWrap(true);
        why->setProperty("faint", true);
        auto* chart = new ChartOfTries(desk_, k);
        box_->addWidget(take);
        box_->addWidget(chart);
        box_->addWidget(why);
        refreshers_.push_back([this, take, chart, why, k] {
            const bool mine = desk_->mends_of == item_ && k < desk_->mends.size();
            const PunchingMend* m = mine ? &desk_->mends[k] : nullptr;
            take->setVisible(m && m->model);
            chart->setVisible(m && m->model);
            chart->update();
            why->setVisible(m && !m->model);
            if (!m) return;
            take->setText(q(m->what) + "  ·  use " + look::number(m->use, 2));
            why->setText(QString(name_of(m->kind)) + ": " + q(m->why_not));
        });
    }
    refreshers_.push_back([this, ask] {
        const bool busy = desk_->mends_of == item_ && desk_->mends_report.endsWith("…");
        ask->setEnabled(desk_->punching() != nullptr && !busy);
        ask->setVisible(!(desk_->mends_of == item_ && !desk_->mends.empty()));
    });
}

// What of the column bears on it, here too.
void PunchingPage::column() {
    if (!find_id(now().columns, item_)) return;
    heading("Column");
    field(path("columns", item_, "size/0"),
          {.name = "column-size-x", .label = "Size along x, or diameter", .deed = "Set the footprint"});
    field(path("columns", item_, "size/1"),
          {.name = "column-size-y", .label = "Size along y", .deed = "Set the footprint"});
    field(path("columns", item_, "starter_bars/diameter"), {.name = "column-starters", .deed = "Set the starter bars"});
    field(path("columns", item_, "starter_bars/number"),
          {.name = "column-starter-number", .deed = "Set the starter bars"});
    links_of({path("columns", item_, "links")});
}

}  // namespace mossbed
