#include "app/skyline.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

#include "app/tray/parts.h"
#include "draw/look.h"

namespace mossbed {
namespace {

constexpr double head = 15, tall = 30, gap = 3, low = 16, foot = 6, words = 86;
constexpr double row_height = head + tall + gap + low + foot;

bool is_without(const CombinationSummary& s) { return s.ending != Ending::solved; }

// The one with most to say; null where none was solved.
template <class Value>
const CombinationSummary* worst_of(const std::vector<const CombinationSummary*>& all, Value value) {
    const CombinationSummary* worst = nullptr;
    for (const CombinationSummary* s : all)
        if (!is_without(*s) && (!worst || value(*s) > value(*worst))) worst = s;
    return worst;
}

}  // namespace

Skyline::Skyline(Desk* desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setObjectName("skyline");
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
    setCursor(Qt::PointingHandCursor);
    connect(desk, &Desk::changed, this, [this](int what) {
        if (what & (Desk::answers | Desk::view)) renew();
    });
    renew();
}

void Skyline::renew() {
    rows_.clear();
    for (Purpose purpose : {Purpose::service, Purpose::strength, Purpose::stability}) {
        Row row{purpose, {}};
        for (const CombinationSummary& s : desk_->summaries())
            if (const Combination* c = find_id(desk_->combinations(), s.id); c && c->purpose == purpose)
                row.of.push_back(&s);
        if (!row.of.empty()) rows_.push_back(std::move(row));
    }
    updateGeometry();
    setFixedHeight(sizeHint().height());
    update();
}

QSize Skyline::sizeHint() const { return {260, int(row_height * double(rows_.size())) + 2}; }
double Skyline::room() const { return std::max(40.0, width() - words); }
double Skyline::pace(const Row& row) const { return std::min(26.0, room() / double(row.of.size())); }

QRectF Skyline::place_of(const std::string& id) const {
    for (size_t k = 0; k < rows_.size(); ++k)
        for (size_t i = 0; i < rows_[k].of.size(); ++i)
            if (rows_[k].of[i]->id == id)
                return {pace(rows_[k]) * double(i), row_height * double(k) + head, pace(rows_[k]), tall + gap + low};
    return {};
}

const CombinationSummary* Skyline::at(QPointF p) const {
    const size_t k = size_t(std::max(0.0, p.y() / row_height));
    if (k >= rows_.size() || p.x() < 0) return nullptr;
    const size_t i = size_t(p.x() / pace(rows_[k]));
    return i < rows_[k].of.size() ? rows_[k].of[i] : nullptr;
}

QString Skyline::tip_at(QPointF p) const {
    const CombinationSummary* s = at(p);
    if (!s) return {};
    if (is_without(*s)) return q(s->id) + ": " + QString::fromUtf8(name_of(s->ending));
    return QString("%1: %2, %3 % in contact")
        .arg(q(s->id), look::with_unit(s->max_pressure, "kPa"), look::number(100 * s->contact_ratio, 1));
}

void Skyline::paint_row(QPainter& p, const Row& row, double top) const {
    p.setFont(look::font(look::Size::small));
    p.setPen(look::faint);
    p.drawText(QRectF(0, top, width(), head), Qt::AlignLeft | Qt::AlignVCenter,
               QString("%1 · %2").arg(name_of(row.purpose), count_of(row.of.size(), "row")));
    const auto* pressed = worst_of(row.of, [](const CombinationSummary& s) { return s.max_pressure; });
    const auto* lifted = worst_of(row.of, [](const CombinationSummary& s) { return -s.contact_ratio; });
    double most = pressed ? pressed->max_pressure : 1;
    for (const CombinationSummary* s : row.of)
        if (s->pressure_limit) most = std::max(most, *s->pressure_limit);
    const double step = pace(row), bar = std::max(1.0, step - 1), base = top + head + tall, floor = base + gap + low;
    for (size_t i = 0; i < row.of.size(); ++i) {
        const CombinationSummary& s = *row.of[i];
        const double x = step * double(i);
        if (s.id == desk_->combination_id && !desk_->envelope())
            p.fillRect(QRectF(x - 1, top + head - 1, step + 1, tall + gap + low + 2), look::moss_wash);
        if (is_without(s)) {  // nothing to stand: hatched from top to foot
            p.fillRect(QRectF(x, top + head, bar, floor - top - head), QBrush(look::rust, Qt::BDiagPattern));
            continue;
        }
        const bool over = s.pressure_limit && s.max_pressure > *s.pressure_limit * (1 + 1e-9);
        const double h = most > 0 ? tall * std::max(0.0, s.max_pressure) / most : 0;
        p.fillRect(QRectF(x, base - h, bar, h),
                   &s == pressed || over ? look::rust : look::colour_at(Scale::pressure, 0.55));
        p.fillRect(QRectF(x, base + gap, bar, low), look::pale);
        const double pressing = low * s.contact_ratio;
        p.fillRect(QRectF(x, floor - pressing, bar, pressing),
                   &s == lifted && s.contact_ratio < 0.9995 ? look::rust : look::moss);
        if (s.pressure_limit) {
            const double y = base - tall * *s.pressure_limit / most;
            p.fillRect(QRectF(x, y - 0.5, step, 1.2), look::ink);
        }
    }
    const double left = room() + 6;
    auto say = [&](double y, const QString& value, const CombinationSummary* of, const QColor& ink = look::rust) {
        p.setPen(look::ink);
        p.drawText(QRectF(left, y, words - 8, 14), Qt::AlignLeft | Qt::AlignVCenter, value);
        p.setPen(ink);
        p.drawText(QRectF(left, y + 13, words - 8, 14), Qt::AlignLeft | Qt::AlignVCenter,
                   p.fontMetrics().elidedText(q(of->id), Qt::ElideRight, int(words - 8)));
    };
    if (pressed) say(top + head + 2, look::with_unit(pressed->max_pressure, "kPa"), pressed);
    if (lifted)
        say(base + gap - 4, look::number(100 * lifted->contact_ratio, 0) + " % pressed", lifted,
            lifted->contact_ratio < 0.9995 ? look::rust : look::faint);
}

void Skyline::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing, false);
    if (desk_->is_full_old()) p.setOpacity(0.45);
    for (size_t k = 0; k < rows_.size(); ++k) paint_row(p, rows_[k], row_height * double(k));
}

void Skyline::mousePressEvent(QMouseEvent* e) {
    if (const CombinationSummary* s = at(e->position())) desk_->choose_combination(s->id);
}

bool Skyline::event(QEvent* e) {
    if (e->type() == QEvent::ToolTip) {
        auto* h = static_cast<QHelpEvent*>(e);
        QToolTip::showText(h->globalPos(), tip_at(h->pos()));
        return true;
    }
    return QWidget::event(e);
}

}  // namespace mossbed
