#include "draw/look.h"

#include <QFontDatabase>
#include <array>
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
    static const std::vector<QColor> margin{{0xE6, 0xBD, 0xAC}, {0xF1, 0xDF, 0xB4}, {0xF1, 0xEE, 0xDF},
                                            {0xDA, 0xE0, 0xC8}, {0xC3, 0xCE, 0xAC}, {0xAE, 0xBE, 0x92}};
    return mix(scale == Scale::settled    ? settled
               : scale == Scale::pressure ? pressure
               : scale == Scale::margin   ? margin
                                          : moment,
               t);
}

namespace {

// Quiet earth tones by a stratum's place in the list of strata.
QColor stratum_colour(int stratum) {
    static const std::array<QColor, 8> tones{
        QColor(0xE6, 0xDC, 0xC4), QColor(0xC6, 0xCC, 0xC2), QColor(0xD8, 0xC6, 0xA6), QColor(0xEB, 0xE2, 0xB8),
        QColor(0xCF, 0xC4, 0xBC), QColor(0xC9, 0xD2, 0xB4), QColor(0xE0, 0xCE, 0xC0), QColor(0xBE, 0xC6, 0xCC)};
    return tones[size_t(std::max(0, stratum)) % tones.size()];
}

QColor colour_of_role(const Tone& t) {
    switch (t.role) {
        case Role::none:
            return Qt::transparent;
        case Role::sheet:
            return sheet;
        case Role::panel:
            return panel;
        case Role::white:
            return white;
        case Role::ink:
            return ink;
        case Role::faint:
            return faint;
        case Role::line:
            return line;
        case Role::moss:
            return moss;
        case Role::ochre:
            return ochre;
        case Role::rust:
            return rust;
        case Role::water:
            return water;
        case Role::concrete:
            return {0x8C, 0x91, 0x86};
        case Role::slab:
            return {0xE6, 0xE3, 0xD6};
        case Role::setting_out:
            return {0xB5, 0xAE, 0x9A};
        case Role::earth:
            return {0xEF, 0xE8, 0xD4};
        case Role::earth_stroke:
            return {0xDD, 0xD2, 0xB6};
        case Role::ground_line:
            return {0xA8, 0x98, 0x6E};
        case Role::boundary:
            return {0x8F, 0x82, 0x62};
        case Role::pressure_fill:
            return {0x9D, 0xB7, 0xB7};
        case Role::pressure_line:
            return {0x4F, 0x7F, 0x8C};
        case Role::pressure_ink:
            return {0x1F, 0x42, 0x54};
        case Role::moment_ink:
            return {0x8A, 0x52, 0x17};
        case Role::settled_fill:
            return {0x6D, 0x7F, 0x3F};
        case Role::stratum:
            return stratum_colour(t.stratum);
        case Role::stratum_stroke:
            return stratum_colour(t.stratum).darker(122);
        case Role::scale:
            return colour_at(t.scale, t.along);
    }
    return ink;
}

}  // namespace

QColor colour(const Tone& t) {
    QColor c = colour_of_role(t);
    if (t.alpha < 255) c.setAlpha(t.alpha);
    return c;
}

QString text_colour(Role role) { return "color: " + colour(role).name() + ";"; }

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

QString on_screen(const std::string& plain) { return QString::fromStdString(typeset(plain)); }

QString number(double v, int decimals) { return std::isfinite(v) ? on_screen(written(v, decimals)) : "–"; }

QString quantity(double v, const QString& unit) {
    return std::isfinite(v) ? on_screen(written(v, unit.toStdString())) : "–";
}

QString with_unit(double v, const QString& unit) {
    return unit.isEmpty() ? quantity(v, unit) : quantity(v, unit) + QChar(0x2009) + unit;
}

}  // namespace mossbed::look
