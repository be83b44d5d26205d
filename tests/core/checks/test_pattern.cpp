#include "core/checks/pattern.h"

#include <QTest>

using namespace wendrix::checks;

/// Expressions as XML Schema has them (Part 2, appendix F), and that none of them takes long.
class TestPattern : public QObject {
    Q_OBJECT
private slots:
    void matches_data();
    void matches();
    void refuses_data();
    void refuses();
    void isNeverSlow_data();
    void isNeverSlow();
};

void TestPattern::matches_data()
{
    QTest::addColumn<QByteArray>("expression");
    QTest::addColumn<QByteArray>("text");
    QTest::addColumn<bool>("does");
    int n = 0;
    const auto row = [&](const char* expression, const char* text, bool does) {
        QTest::newRow(qPrintable(QString("%1: %2 | %3").arg(++n).arg(expression, text)))
            << QByteArray(expression) << QByteArray(text) << does;
    };
    row("AB[0-9]+", "AB12", true);
    row("AB[0-9]+", "xAB12", false); // the whole text
    row("AB[0-9]+", "AB12 ", false);
    row("a|bc", "bc", true);
    row("a|bc", "abc", false);
    row("", "", true);
    row("", "a", false);
    row("a.c", "a\nc", false); // no line's end
    row("a.c", "aßc", true);   // one character, two bytes
    row("a.c", "aßßc", false);
    row("^a$", "^a$", true); // no anchors
    row("^a$", "a", false);
    row("[^a]", "^", true);
    row("[a^]", "^", true);
    row("[a&~]+", "&~a", true);
    row("a{2,3}", "aa", true);
    row("a{2,3}", "aaaa", false);
    row("a{2}", "aa", true);
    row("a{2,}", "aaaaa", true);
    row("\\d{3}", "123", true);
    row("\\d{3}", "\xD9\xA1\xD9\xA2\xD9\xA3", true); // digits of all scripts
    row("\\D", "1", false);
    row("\\D", "x", true);
    row("\\w+", "Öl_", false); // punctuation is none, and the underscore is
    row("\\w+", "Öl2", true);
    row("\\W", "-", true);
    row("[\\w-]+", "W-12", true);
    row("[\\d.]+", "1.5", true);
    row("\\s*", " \t\r\n", true);
    row("\\S+", "a b", false);
    row("[\\s,]+", " , ", true);
    row("\\i\\c*", "_a-1.b", true);
    row("\\i\\c*", "1a", false);
    row("\\I", "1", true);
    row("\\p{Lu}\\p{Ll}+", "Öl", true);
    row("\\P{Lu}", "Ö", false);
    row("[\\p{Lu}\\d]+", "ÖA1", true);
    row("\\p{IsBasicLatin}+", "abc", true);
    row("\\p{IsBasicLatin}+", "abö", false);
    row("[a-z-[aeiou]]+", "bcd", true);
    row("[a-z-[aeiou]]+", "bad", false);
    row("[^\\D]", "7", true);
    row("\\.\\*\\?\\+\\(\\)\\[\\]\\{\\}\\\\\\|\\^\\-", ".*?+()[]{}\\|^-", true);
    row("(ab)+(c|d)?", "ababd", true);
    row("((a|b)c)*", "acbc", true);
    row("[a-]", "-", true);
    row("[-a]", "-", true);
    row("IFC(WALL|SLAB)", "IFCSLAB", true);
    row("(.|\\s)*mm", "12\n mm", true);
}

void TestPattern::matches()
{
    QFETCH(QByteArray, expression);
    QFETCH(QByteArray, text);
    const auto pattern = Pattern::compile(expression.toStdString());
    QVERIFY(pattern.has_value());
    QTEST(pattern->matches(text.toStdString()), "does");
}

void TestPattern::refuses_data()
{
    QTest::addColumn<QByteArray>("expression");
    for (const char* expression : {"(", "[", "a)", "*a", "[a-", "[z-a]", "\\q", "\\p{Nothing}"})
        QTest::newRow(expression) << QByteArray(expression);
    // Written out they are larger than any pattern of a requirement, whoever has to match them.
    QTest::newRow("too often") << QByteArray("((a{1,100}){1,100}){1,100}b");
    QTest::newRow("too often, a class less another") << QByteArray("(([a-z-[x]]{1,100}){1,100}){1,100}b");
    QTest::newRow("longer than any") << QByteArray(5000, 'a');
}

void TestPattern::refuses()
{
    QFETCH(QByteArray, expression);
    QVERIFY(!Pattern::compile(expression.toStdString()));
}

void TestPattern::isNeverSlow_data()
{
    QTest::addColumn<QByteArray>("expression");
    for (const char* expression :
         {".*.*.*x", "(a*)*b", "(a|aa)+b", "(.*a){12}b", "(a?){50}a{50}b", "([a-z]+)*!", ".*.*.*.*.*.*.*.*.*x",
          "(.|\\s)*(.|\\s)*(.|\\s)*9", "[a-z-[x]]*[a-z-[x]]*[a-z-[x]]*9", "(\\p{IsBasicLatin}*)*9"})
        QTest::newRow(expression) << QByteArray(expression);
}

void TestPattern::isNeverSlow()
{
    QFETCH(QByteArray, expression);
    const auto pattern = Pattern::compile(expression.toStdString());
    QVERIFY(pattern.has_value());
    // A thousand values; tried in all ways, one of them alone would take a minute. The test's own limit tells.
    for (int i = 0; i < 1000; ++i)
        QVERIFY(!pattern->matches(std::string(i % 100 == 0 ? 60'000 : 190, 'a')));
    QVERIFY(!pattern->isLinear() || !pattern->isGivenUp());
}

QTEST_GUILESS_MAIN(TestPattern)
#include "test_pattern.moc"
