#include "app/curve_pane.h"

#include <QApplication>
#include <QClipboard>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>

#include "app/chart_library.h"
#include "app/field.h"
#include "app/tray/parts.h"
#include "draw/look.h"
#include "words/curve_file.h"

namespace mossbed {
namespace {

// Lines are told apart by ink and dash, and named at their ends.
struct LineLook {
    QColor colour;
    Qt::PenStyle dash;
};
LineLook look_of(size_t k) {
    const std::array<QColor, 3> inks{look::moss, look::ink, look::colour_at(Scale::pressure, 0.7)};
    const std::array<Qt::PenStyle, 3> dashes{Qt::SolidLine, Qt::DashLine, Qt::DotLine};
    return {inks[k % 3], dashes[(k / 3) % 3]};
}

void dress(QCPAxis* axis, const QString& label) {
    axis->setLabel(label);
    axis->setLabelFont(look::font(look::Size::small));
    axis->setTickLabelFont(look::font(look::Size::small));
    for (auto set : {&QCPAxis::setBasePen, &QCPAxis::setTickPen, &QCPAxis::setSubTickPen})
        (axis->*set)(QPen(look::faint));
    axis->setLabelColor(look::faint), axis->setTickLabelColor(look::ink);
    axis->grid()->setPen(QPen(look::line, 0.7, Qt::DotLine));
    axis->grid()->setZeroLinePen(QPen(look::line));
}

}  // namespace

CurvePane::CurvePane(Desk* desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setObjectName("curve-pane");
    setFocusPolicy(Qt::StrongFocus);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(10, 2, 10, 4);
    column->setSpacing(2);
    auto* top = new QHBoxLayout;
    words_ = new QLabel;
    words_->setObjectName("curve-words");
    words_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    top->addWidget(words_, 1);
    to_ = new Field("up to", Unit::none, "curve-to");
    to_->make_short();
    to_->set_range({0, 50, true});
    to_->show_value(desk->curve_to, false);
    connect(to_, &Field::entered, this, [this](std::optional<double> v) {
        if (!v || *v == desk_->curve_to) return;
        desk_->curve_to = *v;
        desk_->draw_curve();
    });
    top->addWidget(to_);
    auto* own = new QPushButton("Standard points");
    own->setObjectName("curve-points");
    own->setToolTip("middle, rims and the worst column; others by the right button on the Plan");
    connect(own, &QPushButton::clicked, this, [this] {
        desk_->curve_at.clear();
        desk_->draw_curve();
    });
    top->addWidget(own);
    auto* copy_it = new QPushButton("Copy");
    copy_it->setObjectName("curve-copy");
    connect(copy_it, &QPushButton::clicked, this, &CurvePane::copy);
    top->addWidget(copy_it);
    column->addLayout(top);
    chart_ = new QCustomPlot;
    chart_->setObjectName("curve-chart");
    chart_->setBackground(QBrush(look::sheet));
    chart_->setMinimumHeight(60);
    chart_->setMouseTracking(true);
    dress(chart_->xAxis, "");
    dress(chart_->yAxis, "settlement, mm");
    dress(chart_->yAxis2, "share of the base, %");
    chart_->yAxis->setRangeReversed(true);  // down is down
    chart_->yAxis2->setVisible(true);
    chart_->yAxis2->setRange(0, 105);
    chart_->yAxis2->grid()->setVisible(false);
    chart_->axisRect()->setAutoMargins(QCP::msAll);
    column->addWidget(chart_, 1);
    reading_ = new QLabel;
    reading_->setObjectName("curve-reading");
    reading_->setProperty("faint", true);
    reading_->setFont(look::font(look::Size::small));
    reading_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    column->addWidget(reading_);
    connect(chart_, &QCustomPlot::mouseMove, this,
            [this](QMouseEvent* e) { reading_->setText(reading(chart_->xAxis->pixelToCoord(e->position().x()))); });
    connect(desk, &Desk::changed, this, [this](int what) {
        if (!isVisible()) return;
        if (what & (Desk::answers | Desk::view | Desk::model)) follow();
        if (shown_ != desk_->curve) fill();
        say();
    });
}

void CurvePane::showEvent(QShowEvent* e) {
    QWidget::showEvent(e);
    desk_->tracing = true;
    follow();
    fill();
    say();
}

void CurvePane::hideEvent(QHideEvent* e) {
    QWidget::hideEvent(e);
    desk_->tracing = false;
    QMetaObject::invokeMethod(
        desk_, [d = desk_] { d->tell(Desk::view); }, Qt::QueuedConnection);
}

void CurvePane::follow() {
    const long revision = desk_->document()->revision();
    if (!desk_->in_step() || desk_->document()->previewing()) return;
    if (asked_ == desk_->combination_id && asked_revision_ == revision) return;
    asked_ = desk_->combination_id, asked_revision_ = revision;
    desk_->draw_curve();
}

void CurvePane::say() {
    if (!desk_->curve_report.isEmpty()) return words_->setText(desk_->curve_report);
    if (!shown_) return words_->setText("No combination has an answer yet.");
    QString text = bold(q(shown_->combination));
    if (shown_->reaches_nothing())
        text += " has no equilibrium at any factor: " + q(shown_->explanation).toHtmlEscaped();
    else if (!shown_->explanation.empty())
        text += QString(" ends at × %1: ").arg(look::number(shown_->steps.back().factor, 2)) +
                q(shown_->explanation).toHtmlEscaped();
    else
        text += QString(" stands up to × %1 of all its loads").arg(look::number(shown_->steps.back().factor, 2));
    words_->setText(text);
    words_->setToolTip(q(shown_->explanation));
}

void CurvePane::fill() {
    shown_ = desk_->curve;
    chart_->clearPlottables();
    chart_->clearItems();
    reading_->setText(shown_ ? "The pointer reads values." : QString());
    if (shown_ && !shown_->reaches_nothing()) {
        const Curve& c = *shown_;
        double most = 1e-9, least = 0, last = 0;
        std::vector<std::pair<double, QCPItemText*>> ends;
        QVector<double> factors{0};
        for (const CurveStep& s : c.steps)
            if (s.ending == Ending::solved) factors << s.factor, last = s.factor;
        for (size_t k = 0; k < c.points.size(); ++k) {
            QVector<double> values{0};
            for (const CurveStep& s : c.steps)
                if (s.ending == Ending::solved) values << 1000 * s.settlement[k];
            for (double v : values) most = std::max(most, v), least = std::min(least, v);
            QCPGraph* g = chart_->addGraph();
            g->setPen(QPen(look_of(k).colour, 1.6, look_of(k).dash));
            g->setData(factors, values, true);
            auto* name = new QCPItemText(chart_);
            name->position->setCoords(factors.back(), values.back());
            name->setPositionAlignment(Qt::AlignLeft | Qt::AlignVCenter);
            name->setText(" " + q(c.names[k]));
            name->setFont(look::font(look::Size::small));
            name->setColor(look_of(k).colour);
            name->setClipToAxisRect(false);
            ends.emplace_back(values.back(), name);
        }
        struct Share {
            double CurveStep::*of;
            QColor ink;
            QString name;
        };
        for (const Share& share : {Share{&CurveStep::contact_ratio, look::ochre, "in contact"},
                                   Share{&CurveStep::yield_ratio, look::rust, "yields"}}) {
            QVector<double> x, y;
            bool any = share.of == &CurveStep::contact_ratio;
            for (const CurveStep& s : c.steps)
                if (s.ending == Ending::solved) x << s.factor, y << 100 * s.*share.of, any |= s.*share.of > 0;
            if (!any) continue;
            QCPGraph* g = chart_->addGraph(chart_->xAxis, chart_->yAxis2);
            g->setPen(QPen(share.ink, 1.2, Qt::DashDotLine));
            g->setData(x, y, true);
            auto* name = new QCPItemText(chart_);
            name->position->setAxes(chart_->xAxis, chart_->yAxis2);
            name->position->setCoords(x[3 * x.size() / 4], y[3 * x.size() / 4]);  // the ends have the points' names
            name->setPositionAlignment(Qt::AlignRight | Qt::AlignBottom);
            if (y.back() > 50) name->setPositionAlignment(Qt::AlignRight | Qt::AlignTop);
            name->setText(share.name);
            name->setFont(look::font(look::Size::small));
            name->setColor(look::ink);
        }
        // As it is: factor 1; and where it ends.
        auto upright = [&](double at, const QColor& ink, Qt::PenStyle dash) {
            auto* l = new QCPItemStraightLine(chart_);
            l->point1->setCoords(at, 0), l->point2->setCoords(at, 1);
            l->setPen(QPen(ink, 1, dash));
        };
        upright(1, look::faint, Qt::DotLine);
        if (!c.explanation.empty()) upright(c.steps.back().factor, look::rust, Qt::SolidLine);
        chart_->xAxis->setRange(0, 1.14 * std::max({last, c.steps.back().factor, 1.0}));
        chart_->yAxis->setRange(least * 1.1, most * 1.08);
        // Names that would lie on each other move apart.
        chart_->replot();
        const double apart = 12 * chart_->yAxis->range().size() / std::max(30, chart_->axisRect()->height());
        std::sort(ends.begin(), ends.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
        double before = -1e300, after = chart_->yAxis->range().upper + apart / 2;  // the lowest clear of the axis
        for (auto& [value, name] : ends) before = value = std::max(value, before + apart);
        for (auto it = ends.rbegin(); it != ends.rend(); ++it) {
            after = std::min(it->first, after - apart);
            it->second->position->setCoords(factors.back(), after);
        }
    }
    chart_->replot();
}

QString CurvePane::reading(double factor) const {
    if (!shown_ || shown_->reaches_nothing()) return {};
    const CurveStep* nearest = nullptr;
    for (const CurveStep& s : shown_->steps)
        if (s.ending == Ending::solved &&
            (!nearest || std::abs(s.factor - factor) < std::abs(nearest->factor - factor)))
            nearest = &s;
    if (!nearest) return {};
    QStringList parts;
    for (size_t k = 0; k < shown_->points.size(); ++k)
        parts << q(shown_->names[k]) + " " + look::number(1000 * nearest->settlement[k], 1) + " mm";
    QString text = QString("× %1: ").arg(look::number(nearest->factor, 2)) + parts.join(", ") +
                   QString(" · %1 % in contact").arg(look::number(100 * nearest->contact_ratio, 0));
    if (nearest->yield_ratio > 0) text += QString(", %1 yields").arg(q(share_in_words(nearest->yield_ratio)));
    return text + QString(" · %1 largest").arg(look::with_unit(nearest->max_pressure, "kPa"));
}

void CurvePane::copy() const {
    if (!shown_) return desk_->say("There is no curve to copy yet.");
    QApplication::clipboard()->setText(q(curve_table(*shown_, '\t')));
    desk_->say(QString("The curve of %1 is copied: %2 rows.").arg(q(shown_->combination)).arg(shown_->steps.size()));
}

void CurvePane::keyPressEvent(QKeyEvent* e) {
    if (e->matches(QKeySequence::Copy)) return copy();
    QWidget::keyPressEvent(e);
}

}  // namespace mossbed
