// Pictures compared with kept ones. A picture may differ in a few of its pixels (type is set slightly differently from
// one release of the font library to the next); where more differ the test fails and leaves the new picture and one of
// the differences. With MOSSBED_KEEP_PICTURES=1 in the environment the new ones are kept instead.
#pragma once
#include <gtest/gtest.h>

#include <QDir>
#include <QImage>

namespace mossbed::testing {

constexpr int visible = 40;           // of 255, in any channel
constexpr double few_pixels = 0.004;  // share of the picture

struct Difference {
    double share = 1;  // of pixels that differ visibly; 1 when the sizes differ
    QImage picture;    // rust where they do, over the faded new one
};
inline Difference difference(const QImage& a, const QImage& b) {
    Difference d;
    if (a.size() != b.size()) return d;
    d.picture = b.convertToFormat(QImage::Format_RGB32);
    long n = 0;
    for (int y = 0; y < a.height(); ++y)
        for (int x = 0; x < a.width(); ++x) {
            const QColor p = a.pixelColor(x, y), q = b.pixelColor(x, y);
            const int off =
                std::max({std::abs(p.red() - q.red()), std::abs(p.green() - q.green()), std::abs(p.blue() - q.blue())});
            n += off > visible;
            d.picture.setPixelColor(x, y,
                                    off > visible ? QColor(200, 30, 0)
                                                  : QColor(170 + q.red() / 3, 170 + q.green() / 3, 170 + q.blue() / 3));
        }
    d.share = double(n) / (double(a.width()) * a.height());
    return d;
}

inline void expect_picture(const QImage& now, const QString& name) {
    const QString kept = QString(SOURCE_DIR "/tests/data/pictures/%1.png").arg(name);
    if (qEnvironmentVariableIsSet("MOSSBED_KEEP_PICTURES")) {
        QDir().mkpath(SOURCE_DIR "/tests/data/pictures");
        ASSERT_TRUE(now.save(kept));
        return;
    }
    const QImage before(kept);
    ASSERT_FALSE(before.isNull()) << kept.toStdString() << " is not there";
    const Difference d = difference(before, now);
    if (d.share <= few_pixels) return;
    QDir().mkpath(PICTURES_OUT);
    const QString out = QString(PICTURES_OUT "/%1").arg(name);
    now.save(out + "-new.png");
    d.picture.save(out + "-difference.png");
    ADD_FAILURE() << 100 * d.share << " % of " << name.toStdString() << " differs; see " << out.toStdString()
                  << "-new.png and -difference.png";
}

}  // namespace mossbed::testing
