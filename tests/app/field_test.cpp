#include "app/field.h"

#include <gtest/gtest.h>

#include <QTest>

namespace mossbed {

TEST(Field, TakesExpressionsOtherUnitsAndADecimalComma) {
    EXPECT_NEAR(*read_number("3*1.2", Unit::metre), 3.6, 1e-12);
    EXPECT_NEAR(*read_number("24 in", Unit::metre), 0.6096, 1e-12);
    EXPECT_NEAR(*read_number("750mm", Unit::metre), 0.75, 1e-12);
    EXPECT_NEAR(*read_number("0,75", Unit::metre), 0.75, 1e-12);
    EXPECT_NEAR(*read_number("(2+1)^2/3", Unit::none), 3, 1e-12);
    EXPECT_NEAR(*read_number("1e3", Unit::kilonewton), 1000, 1e-12);
    EXPECT_NEAR(*read_number("20 MN/m3", Unit::kilonewton_per_cubic_metre), 20000, 1e-9);
    EXPECT_NEAR(*read_number("3 ksf", Unit::kilopascal), 143.64078, 1e-4);
    EXPECT_NEAR(*read_number("−5", Unit::kilonewton), -5, 1e-12);
}

TEST(Field, SaysWhyItCannotRead) {
    QString why;
    EXPECT_FALSE(read_number("12 kN", Unit::metre, &why));
    EXPECT_TRUE(why.contains("not a unit"));
    EXPECT_FALSE(read_number("", Unit::metre, &why));
    EXPECT_FALSE(read_number("1/0", Unit::metre, &why));
    EXPECT_FALSE(read_number("sin(", Unit::metre, &why));
}

TEST(Field, AValueOutOfReasonIsToldAtOnceAndNotTaken) {
    Field f("Thickness", Unit::metre, "t");
    f.set_range({0, 10, true});
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
