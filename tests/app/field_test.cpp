#include "app/field.h"

#include <gtest/gtest.h>

#include <QTest>

namespace mossbed {

TEST(Field, TakesExpressionsOtherUnitsAndADecimalComma) {
    EXPECT_NEAR(*read_number("3*1.2", Dimension::length), 3.6, 1e-12);
    EXPECT_NEAR(*read_number("24 in", Dimension::length), 0.6096, 1e-12);
    EXPECT_NEAR(*read_number("750mm", Dimension::length), 0.75, 1e-12);
    EXPECT_NEAR(*read_number("0,75", Dimension::length), 0.75, 1e-12);
    EXPECT_NEAR(*read_number("(2+1)^2/3", Dimension::none), 3, 1e-12);
    EXPECT_NEAR(*read_number("1e3", Dimension::force), 1000, 1e-12);
    EXPECT_NEAR(*read_number("20 MN/m3", Dimension::modulus), 20000, 1e-9);
    EXPECT_NEAR(*read_number("3 ksf", Dimension::pressure), 143.64078, 1e-4);
    EXPECT_NEAR(*read_number("−5", Dimension::force), -5, 1e-12);
}

TEST(Field, SaysWhyItCannotRead) {
    QString why;
    EXPECT_FALSE(read_number("12 kN", Dimension::length, &why));
    EXPECT_TRUE(why.contains("not a unit"));
    EXPECT_FALSE(read_number("", Dimension::length, &why));
    EXPECT_FALSE(read_number("1/0", Dimension::length, &why));
    EXPECT_FALSE(read_number("sin(", Dimension::length, &why));
}

TEST(Field, AValueOutOfReasonIsToldAtOnceAndNotTaken) {
    Field f("Thickness", Dimension::length, "t");
    f.set_range(0, 10, true);
    f.show_value(0.6, true);
    bool taken = false;
    QObject::connect(&f, &Field::entered, [&] { taken = true; });
    f.show();
    f.line()->setFocus();
    f.line()->selectAll();
    QTest::keyClicks(f.line(), "750");
    QTest::keyClick(f.line(), Qt::Key_Return);
    EXPECT_FALSE(taken);
    EXPECT_TRUE(f.findChild<QLabel*>("t-fault")->text().contains("out of reason"));
    f.line()->selectAll();
    QTest::keyClicks(f.line(), "750 mm");
    QTest::keyClick(f.line(), Qt::Key_Return);
    EXPECT_TRUE(taken);
    EXPECT_EQ(f.line()->text(), "0.75");
}

}  // namespace mossbed
