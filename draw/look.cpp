#include "draw/look.h"

#include <QFontDatabase>
#include <cmath>

#include "words/quantities.h"

namespace mossbed::look {
namespace {
QColor mix(const std::vector<QColor>& stops, double t) {
    t = std::clamp(t, 0.0, 1.0) * double(stops.size() - 1);
    const size_t i = std::min(stops.size() - 2, size_t(t));
    const double f = t - double(i);
    auto lerp = [f](int a, int b) { return int(std::lround(a + f * (b - a))); };
    return {lerp(stops[i].red(), stops[i + 1].red()), lerp(stops[i].green(), stops[i + 1].green()),
            lerp(stops[i].blue(), stops[i + 1].blue())};
}
QString family = "DejaVu Sans Condensed";
}  // namespace

QColor colour_at(Scale scale, double t) {
    static const std::vector<QColor> settled{
        {0xF1, 0xEA, 0xD2}, {0xB7, 0xB2, 0x6B}, {0x6D, 0x7F, 0x3F}, {0x33, 0x45, 0x2B}};
    static const std::vector<QColor> pressure{
        {0xEE, 0xF0, 0xEA}, {0x9D, 0xB7, 0xB7}, {0x4F, 0x7F, 0x8C}, {0x1F, 0x42, 0x54}};
    static const std::vector<QColor> moment{{0x2F, 0x5D, 0x73}, {0xF3, 0xEF, 0xE3}, {0xB5, 0x74, 0x2A}};
    return mix(scale == Scale::settled ? settled : scale == Scale::pressure ? pressure : moment, t);
}

QColor colour_of_use(double use, bool over) { return over ? rust : use >= 0.9 ? ochre : moss; }

void load_fonts() {
    for (const char* file : {":/fonts/DejaVuSansCondensed.ttf", ":/fonts/DejaVuSansCondensed-Bold.ttf"}) {
        const int id = QFontDatabase::addApplicationFont(file);
        if (id >= 0 && !QFontDatabase::applicationFontFamilies(id).isEmpty())
            family = QFontDatabase::applicationFontFamilies(id).first();
    }
}

QFont font(Size size, bool bold) {
    QFont f(family);
    f.setPixelSize(size == Size::small ? 11 : size == Size::normal ? 12 : 14);
    f.setStretch(QFont::SemiCondensed);
    f.setBold(bold);
    return f;
}

QColor faded(QColor c, int alpha) {
    c.setAlpha(alpha);
    return c;
}

QString on_screen(const std::string& plain) {
    QString s = QString::fromStdString(plain);
    const bool minus = s.startsWith('-');
    if (minus) s.remove(0, 1);
    const int point = int(s.indexOf('.') < 0 ? s.size() : s.indexOf('.'));
    if (point > 4 && !s.contains('/'))
        for (int i = point - 3; i > 0; i -= 3) s.insert(i, QChar(0x2009));
    return minus ? QString(QChar(0x2212)) + s : s;
}

QString number(double v, int decimals) { return std::isfinite(v) ? on_screen(written(v, decimals)) : "–"; }

QString quantity(double v, const QString& unit) {
    return std::isfinite(v) ? on_screen(written(v, unit.toStdString())) : "–";
}

QString with_unit(double v, const QString& unit) {
    return unit.isEmpty() ? quantity(v, unit) : quantity(v, unit) + QChar(0x2009) + unit;
}

}  // namespace mossbed::look
