// Prints what Qt makes of each role, in C++ and in QML: NAME WHERE FAMILY / STYLE / WEIGHT /
// ITALIC / PIXELS / SPACING EXACT, where the family and the style are those of the font that
// is really drawn with.
#include "apptype.h"
#include <QFontInfo>
#include <QGuiApplication>
#include <QImage>
#include <QPainter>
#include <QQmlComponent>
#include <QQmlEngine>
#include <QMetaProperty>
#include <QRawFont>
#include <cstdio>

static void say(const char *name, const char *where, const QFont &font)
{
    const QFontInfo info(font);
    const QRawFont raw = QRawFont::fromFont(font);
    QString text = QString("%1 / %2 / %3 / %4 / %5 / %6").arg(raw.familyName(), raw.styleName()).arg(info.weight()).arg(info.italic()).arg(info.pixelSize()).arg(font.letterSpacing());
    text.replace('\n', '~').replace('\t', '^');
    std::printf("%s %s %s%s\n", name, where, text.toUtf8().constData(), info.exactMatch() ? " exact" : "");
}

int main(int argc, char *argv[])
{
    QGuiApplication app(argc, argv);
    std::printf("failed: %s\n", AppType::load().join(' ').toUtf8().constData());
#define ROLE(name) say(#name, "C++", AppType::name());
#include "roles.inc"
#undef ROLE
    std::printf("%s\n", AppType::report().toUtf8().constData());
    QQmlEngine engine;
    QQmlComponent component(&engine);
    component.setData("import QtQuick 2.0\nimport AppType 1.0\nQtObject { property QtObject all: AppType }\n", QUrl("qrc:/judge.qml"));
    QObject *holder = component.create();
    if (!holder) {
        std::printf("no QML: %s\n", component.errorString().toUtf8().constData());
        return 1;
    }
    QObject *all = holder->property("all").value<QObject *>();
    std::printf("loaded %d\n", all->property("loaded").toBool());
    QVariant listed;
    QMetaObject::invokeMethod(all, "report", Q_RETURN_ARG(QVariant, listed));
    std::printf("QML %s\n", listed.toString().toUtf8().constData());
    for (int i = 0; i < all->metaObject()->propertyCount(); i++) {
        const QMetaProperty p = all->metaObject()->property(i);
        const QVariant v = all->property(p.name());
        if (v.canConvert<QFont>() && v.typeId() == QMetaType::QFont)
            say(p.name(), "QML", v.value<QFont>());
        else if (QByteArray(p.name()).endsWith("Line") || QByteArray(p.name()).endsWith("Colour"))
            std::printf("%s %s\n", p.name(), v.toString().toUtf8().constData());
    }
    if (argc > 1) {
        QImage image(760, 200, QImage::Format_RGB32);
        image.fill(Qt::white);
        QPainter painter(&image);
        int y = 24;
#define ROLE(name) painter.setFont(AppType::name()); y += painter.fontMetrics().height(); painter.drawText(24, y, "07:40 Holm, Stora Skerry");
#include "roles.inc"
        painter.end();
        image.save(argv[1]);
    }
    return 0;
}
