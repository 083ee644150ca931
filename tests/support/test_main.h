// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QCoreApplication>
#include <QMetaMethod>
#include <QtTest>

#include <cmath>
#include <cstdio>
#include <string>
#include <vector>

namespace wheelwright::testing {

/// Test functions of a class: private slots that Qt Test runs as such.
inline int testFunctions(const QMetaObject &meta) {
    int count = 0;
    for (int i = meta.methodOffset(); i < meta.methodCount(); ++i) {
        const QByteArray name = meta.method(i).name();
        const bool fixture =
            name == "initTestCase" || name == "cleanupTestCase" || name == "init" || name == "cleanup";
        count +=
            meta.method(i).methodType() == QMetaMethod::Slot && !fixture && !name.endsWith("_data") ? 1 : 0;
    }
    return count;
}

/// Runs the class; a test executable without any test has failed, whatever it says.
template <class Test>
int run(int argc, char **argv) {
    Test test;
    if (testFunctions(Test::staticMetaObject) == 0) {
        std::fprintf(stderr, "no test in %s\n", Test::staticMetaObject.className());
        return 3;
    }
    return QTest::qExec(&test, argc, argv);
}

inline bool near(double actual, double expected, double tolerance) {
    return std::abs(actual - expected) <= tolerance;
}

} // namespace wheelwright::testing

/// Fails with both numbers when they are further apart than the tolerance.
#define COMPARE_NEAR(actual, expected, tolerance)                                                            \
    QVERIFY2(                                                                                                \
        wheelwright::testing::near(static_cast<double>(actual), static_cast<double>(expected), tolerance),   \
        qPrintable(QStringLiteral("%1 is not %2 within %3")                                                  \
                       .arg(static_cast<double>(actual), 0, 'g', 12)                                         \
                       .arg(static_cast<double>(expected), 0, 'g', 12)                                       \
                       .arg(tolerance)))

/// The call must throw InputError; its message must hold each of the words.
#define EXPECT_INPUT_ERROR(call, ...)                                                                        \
    do {                                                                                                     \
        bool threw = false;                                                                                  \
        try {                                                                                                \
            (void)(call);                                                                                    \
        } catch (const wheelwright::InputError &e) {                                                         \
            threw = true;                                                                                    \
            for (const std::string &word : std::vector<std::string>{__VA_ARGS__})                            \
                QVERIFY2(std::strstr(e.what(), word.c_str()),                                                \
                         qPrintable(QStringLiteral("'%1' does not say '%2'")                                 \
                                        .arg(QString::fromUtf8(e.what()), QString::fromStdString(word))));   \
        } catch (const std::exception &e) {                                                                  \
            QFAIL(e.what()); /* not one that abandons the other cases */                                     \
        }                                                                                                    \
        QVERIFY2(threw, "nothing was refused: " #call);                                                      \
    } while (false)

#define CORE_TEST_MAIN(Test)                                                                                 \
    int main(int argc, char **argv) {                                                                        \
        QCoreApplication app(argc, argv);                                                                    \
        return wheelwright::testing::run<Test>(argc, argv);                                                  \
    }
