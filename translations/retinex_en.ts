<?xml version="1.0" encoding="utf-8"?>
<!DOCTYPE TS>
<TS version="2.1" language="en_US">
<context>
    <name>retinex::app::DeliveryController</name>
    <message numerus="yes">
        <source>%n delivery(ies) are done.</source>
        <translation>
            <numerusform>%n delivery is done.</numerusform>
            <numerusform>%n deliveries are done.</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n delivery(ies) wait from last time.</source>
        <translation>
            <numerusform>%n delivery waits from last time.</numerusform>
            <numerusform>%n deliveries wait from last time.</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n delivery(ies) ended, and %1 failed.</source>
        <translation>
            <numerusform>%n delivery ended, and %1 failed.</numerusform>
            <numerusform>%n deliveries ended, and %1 failed.</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>retinex::app::DeliveryPanel</name>
    <message numerus="yes">
        <source>%1, of %n frame(s), in %2</source>
        <translation>
            <numerusform>%1, of %n frame, in %2</numerusform>
            <numerusform>%1, of %n frames, in %2</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%1 and so on, %n frame(s), in %2</source>
        <translation>
            <numerusform>%1, %n frame, in %2</numerusform>
            <numerusform>%1 and so on, %n frames, in %2</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>retinex::app::EmptyFrameDialog</name>
    <message numerus="yes">
        <source>%n picture(s) hung before a camera, in a frame of this size:</source>
        <translation>
            <numerusform>%n picture hung before a camera, in a frame of this size:</numerusform>
            <numerusform>%n pictures hung before a camera, in a frame of this size:</numerusform>
        </translation>
    </message>
</context>
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
