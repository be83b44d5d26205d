"""What was asked of the teams, as an IDS of buildingSMART, and which deliveries meet it."""

IDS = """<?xml version="1.0" encoding="UTF-8"?>
<ids xmlns="http://standards.buildingsmart.org/IDS" xmlns:xs="http://www.w3.org/2001/XMLSchema" xmlns:xsi="http://www.w3.org/2001/XMLSchema-instance" xsi:schemaLocation="http://standards.buildingsmart.org/IDS http://standards.buildingsmart.org/IDS/1.0/ids.xsd">
  <info>
    <title>Marrowfield information requirements</title>
    <version>1</version>
    <date>2026-09-28</date>
    <purpose>Coordination</purpose>
  </info>
  <specifications>
    <specification name="Core walls bear loads" ifcVersion="IFC2X3" identifier="MSS-1" instructions="Fill in LoadBearing of Pset_WallCommon.">
      <applicability minOccurs="1" maxOccurs="unbounded">
        <entity><name><simpleValue>IFCWALLSTANDARDCASE</simpleValue></name></entity>
      </applicability>
      <requirements>
        <property dataType="IFCBOOLEAN" cardinality="required">
          <propertySet><simpleValue>Pset_WallCommon</simpleValue></propertySet>
          <baseName><simpleValue>LoadBearing</simpleValue></baseName>
          <value><simpleValue>true</simpleValue></value>
        </property>
      </requirements>
    </specification>
    <specification name="Pipes say their nominal diameter" ifcVersion="IFC4" identifier="MSS-2" instructions="Fill in NominalDiameter of Pset_PipeSegmentTypeCommon.">
      <applicability minOccurs="0" maxOccurs="unbounded">
        <entity><name><simpleValue>IFCPIPESEGMENT</simpleValue></name></entity>
      </applicability>
      <requirements>
        <property dataType="IFCPOSITIVELENGTHMEASURE" cardinality="required">
          <propertySet><simpleValue>Pset_PipeSegmentTypeCommon</simpleValue></propertySet>
          <baseName><simpleValue>NominalDiameter</simpleValue></baseName>
        </property>
      </requirements>
    </specification>
    <specification name="Cable trays are of a material" ifcVersion="IFC4X3_ADD2" identifier="MSS-3" instructions="Give each tray its material.">
      <applicability minOccurs="0" maxOccurs="unbounded">
        <entity><name><simpleValue>IFCCABLECARRIERSEGMENT</simpleValue></name></entity>
      </applicability>
      <requirements>
        <material cardinality="required"/>
      </requirements>
    </specification>
    <specification name="Luminaires have a tag" ifcVersion="IFC4X3_ADD2" identifier="MSS-4" instructions="Fill in the tag, as in the lighting schedule.">
      <applicability minOccurs="0" maxOccurs="unbounded">
        <entity><name><simpleValue>IFCLIGHTFIXTURE</simpleValue></name></entity>
      </applicability>
      <requirements>
        <attribute cardinality="required"><name><simpleValue>Tag</simpleValue></name></attribute>
      </requirements>
    </specification>
  </specifications>
</ids>
"""


def truth():
    """The verdict of each specification that speaks of a file, and how many elements fail."""
    luminaires = 3 * 6 * 3 * 6  # storeys, bays along and across, luminaires a bay
    return {"MSS-TBF-STR-P01.ifc": {"MSS-1": 0}, "MSS-OPW-PIP-heating-P01.ifc": {"MSS-2": 0}, "MSS-OPW-PIP-sprinklers-P01.ifc": {"MSS-2": 0},
            "MSS-PWE-ELE-P01.ifc": {"MSS-3": 0, "MSS-4": luminaires}, "MSS-PWE-ELE-P03.ifc": {"MSS-3": 0, "MSS-4": luminaires + 3}}
