import QtQuick 2.15

Rectangle {
    width: 640
    height: 360
    color: "#f4f8fa"

    Text {
        anchors.centerIn: parent
        text: "Holm, two cables off"
    }
}
