<?xml version="1.0" encoding="utf-8"?>
<!DOCTYPE TS>
<TS version="2.1" language="en_US">
<context>
    <name>retinex::app::ExportBar</name>
    <message numerus="yes">
        <source>%n frame(s)</source>
        <translation>
            <numerusform>%n frame</numerusform>
            <numerusform>%n frames</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>
… and %n more frame(s) that failed.</source>
        <translation>
            <numerusform>
… and %n more frame that failed.</numerusform>
            <numerusform>
… and %n more frames that failed.</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>retinex::app::FilesController</name>
    <message numerus="yes">
        <source>%n file(s) are not there, among them the %1: %2.</source>
        <translation>
            <numerusform>%n file is not there, among them the %1: %2.</numerusform>
            <numerusform>%n files are not there, among them the %1: %2.</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>retinex::app::TimeController</name>
    <message numerus="yes">
        <source>%n mark(s) follow the %1 frames of this shot: no focus distance is off by more than %2 % of itself.</source>
        <translation>
            <numerusform>%n mark follows the %1 frames of this shot: no focus distance is off by more than %2 % of itself.</numerusform>
            <numerusform>%n marks follow the %1 frames of this shot: no focus distance is off by more than %2 % of itself.</numerusform>
        </translation>
    </message>
</context>
</TS>
