#include "app/small_maps.h"

#include <QHelpEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <QVBoxLayout>
#include <algorithm>

#include "app/tray/parts.h"
#include "draw/look.h"

namespace mossbed {
namespace {
constexpr int image_width = 84, gap = 10, foot = 17, margin = 3;  // for the frame of the one in hand
constexpr size_t most_maps = 24;
}  // namespace

SmallMaps::SmallMaps(Desk* desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setObjectName("small-maps");
    QSizePolicy policy(QSizePolicy::Preferred, QSizePolicy::Fixed);
    policy.setHeightForWidth(true);
    setSizePolicy(policy);
    setCursor(Qt::PointingHandCursor);
    connect(desk, &Desk::changed, this, [this](int what) {
        if (what & (Desk::answers | Desk::view)) renew();
    });
    renew();
}

Purpose SmallMaps::purpose() const {
    if (desk_->envelope()) return desk_->envelope()->purpose;
    const CombinationAnswer* c = desk_->combination();
    return c ? c->combination.purpose : Purpose::service;
}

Quantity SmallMaps::quantity() const {
    const Quantity q = desk_->quantity;  // what is no combination's own has no small maps
    return q == Quantity::none || q == Quantity::modulus || is_of_bars(q) ? Quantity::pressure : q;
}

QString SmallMaps::about() const {
    if (maps_.empty() && desk_->answer() && desk_->answer()->coarse) return "They follow with the full answer.";
    if (maps_.empty()) return "No combination has an answer yet.";
    const QString unit = QString::fromUtf8(info(of_quantity_).unit);
    return QString("All for %1, one scale: %2 to %3 %4")
        .arg(name_of(of_purpose_), look::number(bands_.low, bands_.decimals()),
             look::number(bands_.high, bands_.decimals()), unit);
}

void SmallMaps::sample() {
    const Answer& a = *desk_->answer();
    if (sampled_ == a.stages.meshed) return;
    sampled_ = a.stages.meshed;
    Box b;
    for (Point p : a.mesh.nodes) b.add(p);
    const double scale = std::min(image_width / std::max(b.width(), 1e-6), 96 / std::max(b.height(), 1e-6));
    pixels_ = QSize(std::max(8, int(b.width() * scale)), std::max(8, int(b.height() * scale)));
    hits_.clear();
    for (int y = 0; y < pixels_.height(); ++y)
        for (int x = 0; x < pixels_.width(); ++x)
            hits_.push_back(a.finder.at({b.low.x + (x + 0.5) / scale, b.high.y - (y + 0.5) / scale}));
}

void SmallMaps::renew() {
    const auto& a = desk_->answer();
    if (a == of_ && quantity() == of_quantity_ && purpose() == of_purpose_) return update();
    if (a && a->coarse) return update();  // a frame under the hand: they follow when it rests
    of_ = a, of_quantity_ = quantity(), of_purpose_ = purpose();
    maps_.clear(), left_out_ = 0;
    if (a) {
        sample();
        std::vector<int> all = combinations_for(*a, of_purpose_);
        std::stable_sort(all.begin(), all.end(), [&](int i, int j) {  // those that govern first
            auto governs = [&](int k) {
                const CombinationSummary* s = desk_->summary_of(a->combinations[size_t(k)].combination.id);
                return s && s->governs > 0;
            };
            return governs(i) && !governs(j);
        });
        left_out_ = std::max(0, int(all.size()) - int(most_maps));
        all.resize(std::min(all.size(), most_maps));
        FieldMap both = envelope_map(*a, {of_purpose_, Extreme::largest}, of_quantity_).map;
        const FieldMap least = envelope_map(*a, {of_purpose_, Extreme::smallest}, of_quantity_).map;
        both.least = std::min(both.least, least.least);
        bands_ = natural_bands(both, of_quantity_);
        for (int k : all) {
            const CombinationAnswer& c = a->combinations[size_t(k)];
            const FieldMap map = make_map(*a, c, of_quantity_);
            SmallMap m{c.combination.id, QImage(pixels_, QImage::Format_ARGB32_Premultiplied), {}};
            m.image.fill(Qt::transparent);
            for (int y = 0; y < pixels_.height(); ++y)
                for (int x = 0; x < pixels_.width(); ++x) {
                    const Finder::Hit& h = hits_[size_t(y * pixels_.width() + x)];
                    if (h.element < 0) continue;
                    const double v = map.at(h, a->mesh);
                    const int band = std::clamp(int((v - bands_.low) / bands_.step()), 0, bands_.n - 1);
                    m.image.setPixelColor(
                        x, y,
                        look::colour_at(info(of_quantity_).scale, bands_.n > 1 ? double(band) / (bands_.n - 1) : 0.5));
                }
            m.note = c.contact_ratio < 0.9995 ? look::number(100 * c.contact_ratio, 0) + " %" : QString();
            maps_.push_back(std::move(m));
        }
    }
    updateGeometry();
    update();
    Q_EMIT renewed();
}

int SmallMaps::columns(int width) const { return std::max(1, (width - 2 * margin + gap) / (image_width + gap)); }

int SmallMaps::heightForWidth(int width) const {
    const int n = int(maps_.size()), c = columns(width), rows = (n + c - 1) / c;
    return std::max(20, 2 * margin + rows * (pixels_.height() + foot + 4) + (left_out_ ? 18 : 0));
}

QRectF SmallMaps::place_of(int k) const {
    const int c = columns(width());
    return QRectF(margin + (k % c) * (image_width + gap), margin + (k / c) * (pixels_.height() + foot + 4), image_width,
                  pixels_.height());
}

int SmallMaps::at(QPointF p) const {
    for (int k = 0; k < int(maps_.size()); ++k)
        if (place_of(k).adjusted(0, 0, 0, foot).contains(p)) return k;
    return -1;
}

void SmallMaps::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    if (desk_->is_full_old()) p.setOpacity(0.45);
    for (int k = 0; k < int(maps_.size()); ++k) {
        const SmallMap& m = maps_[size_t(k)];
        const QRectF box = place_of(k);
        p.drawImage(box.topLeft(), m.image);
        const bool in_hand = !desk_->envelope() && m.id == desk_->combination_id;
        if (in_hand) {
            p.setPen(QPen(look::moss, 2.4));
            p.setBrush(Qt::NoBrush);
            p.drawRect(QRectF(box.topLeft(), QSizeF(pixels_)).adjusted(-2, -2, 2, 2));
        }
        p.setPen(look::ink);
        p.setFont(look::font(look::Size::small, in_hand));
        const QRectF words(box.left(), box.top() + pixels_.height() + 2, image_width, foot);
        const int room = image_width - (m.note.isEmpty() ? 0 : p.fontMetrics().horizontalAdvance(m.note) + 4);
        p.drawText(words, Qt::AlignLeft | Qt::AlignVCenter,
                   p.fontMetrics().elidedText(QString::fromStdString(m.id), Qt::ElideRight, room));
        p.setPen(look::faint);
        p.drawText(words, Qt::AlignRight | Qt::AlignVCenter, m.note);
    }
    if (left_out_ > 0) {
        p.setPen(look::faint);
        p.setFont(look::font(look::Size::small));
        p.drawText(QRectF(0, height() - 17, width(), 16), Qt::AlignLeft | Qt::AlignVCenter,
                   QString("and %1 more, in the table of combinations").arg(left_out_));
    }
}

void SmallMaps::mousePressEvent(QMouseEvent* e) {
    if (const int k = at(e->position()); k >= 0) desk_->choose_combination(maps_[size_t(k)].id);
}

bool SmallMaps::event(QEvent* e) {
    if (e->type() == QEvent::ToolTip) {
        auto* h = static_cast<QHelpEvent*>(e);
        const int k = at(h->pos());
        const Combination* c = k < 0 ? nullptr : find_id(desk_->combinations(), maps_[size_t(k)].id);
        QToolTip::showText(h->globalPos(),
                           c ? q(c->generated_by.value_or(c->title.empty() ? c->id : c->title)) : QString());
        return true;
    }
    return QWidget::event(e);
}

QWidget* small_maps(Desk* desk) {
    auto* both = new QWidget;
    auto* column = new QVBoxLayout(both);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(5);
    auto* words = new QLabel;
    words->setObjectName("small-maps-words");
    words->setProperty("faint", true);
    words->setWordWrap(true);
    words->setFont(look::font(look::Size::small));
    auto* maps = new SmallMaps(desk);
    column->addWidget(words);
    column->addWidget(maps);
    words->setText(maps->about());
    QObject::connect(maps, &SmallMaps::renewed, words, [words, maps] { words->setText(maps->about()); });
    return both;
}

}  // namespace mossbed
