// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/test_main.h"

/// The guard itself: a class without a test must not pass as tested.
class EmptyTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() {}
    void rows_data() {}
};

class TestMainTest : public QObject {
    Q_OBJECT
  private slots:
    void aClassWithoutTestsFails() {
        char name[] = "empty";
        char *arguments[] = {name, nullptr};
        QCOMPARE(wheelwright::testing::run<EmptyTest>(1, arguments), 3);
        QCOMPARE(wheelwright::testing::testFunctions(staticMetaObject), 1);
    }
};

CORE_TEST_MAIN(TestMainTest)
#include "test_main_test.moc"
