"""What every team's file has in common: project, units, contexts, storeys, grid, relations."""
import math

import building as b
from ifc_writer import Enum, IfcFile, Ref, Typed, guid


class ProjectFile:
    """One team's IFC file: a spatial structure to put elements into, and the relations at the end."""

    def __init__(self, team, company, schema, unit, shift, turn=0.0, time="2026-10-12T16:20:00", first_id=1, step=1,
                 site=None, declared="as unit", raised=None, model="", axis_off=None, renewed=False):
        """`declared` is the prefix the file names, where that is not the one it is drawn in; `raised` says by how much
        storeys stand too high, in metres; `model` tells apart several models of a team; `axis_off` is a lettered
        axis and how far it is drawn too far north; `renewed` gives every element another GlobalId."""
        scale = 1000.0 if unit == "MILLI" else 1.0
        self.team, self.time, self.company, self.renewed = team, time, company, renewed
        self.log = []  # (class, key, name, storey, property sets) of every element
        declared = unit if declared == "as unit" else declared
        own = self.own = f"{team} {model}".strip()
        f = self.f = IfcFile(schema, scale, first_id, step)
        person = f.add("IfcPerson", FamilyName="Modeller", GivenName=team)
        organisation = f.add("IfcOrganization", Name=company)
        application = f.add("IfcApplication", ApplicationDeveloper=organisation, Version="1.0",
                            ApplicationFullName="Marrowfield sample generator", ApplicationIdentifier="sample")
        self.history = f.add("IfcOwnerHistory", ChangeAction=Enum("ADDED"), CreationDate=1760000000,
                             OwningUser=f.add("IfcPersonAndOrganization", ThePerson=person,
                                              TheOrganization=organisation), OwningApplication=application)
        units = [f.add("IfcSIUnit", UnitType=Enum("LENGTHUNIT"), Prefix=Enum(declared) if declared else None,
                       Name=Enum("METRE")),
                 f.add("IfcSIUnit", UnitType=Enum("AREAUNIT"), Name=Enum("SQUARE_METRE")),
                 f.add("IfcSIUnit", UnitType=Enum("VOLUMEUNIT"), Name=Enum("CUBIC_METRE")),
                 f.add("IfcSIUnit", UnitType=Enum("PLANEANGLEUNIT"), Name=Enum("RADIAN"))]
        north = f.direction(*site["trueNorth"]) if site else None
        self.context = f.add("IfcGeometricRepresentationContext", ContextType="Model", CoordinateSpaceDimension=3,
                             Precision=1e-5, WorldCoordinateSystem=f.place3(), TrueNorth=north)
        self.body = f.add("IfcGeometricRepresentationSubContext", ContextIdentifier="Body", ContextType="Model",
                          ParentContext=self.context, TargetView=Enum("MODEL_VIEW"))
        self.axis = f.add("IfcGeometricRepresentationSubContext", ContextIdentifier="FootPrint", ContextType="Model",
                          ParentContext=self.context, TargetView=Enum("MODEL_VIEW"))
        project = f.add("IfcProject", GlobalId=guid(f"{own} project"), OwnerHistory=self.history,
                        Name="Marrowfield Seed Store", RepresentationContexts=[self.context],
                        UnitsInContext=f.add("IfcUnitAssignment", Units=units))
        if site:
            crs = f.add("IfcProjectedCRS", Name="EPSG:25832", Description="ETRS89 / UTM zone 32N",
                        GeodeticDatum="ETRS89", VerticalDatum="DHHN2016", MapProjection="UTM", MapZone="32N",
                        # Said where it is not the file's own length unit.
                        MapUnit=f.add("IfcSIUnit", UnitType=Enum("LENGTHUNIT"), Name=Enum("METRE")) if declared else None)
            f.add("IfcMapConversion", SourceCRS=self.context, TargetCRS=crs, Eastings=site["eastings"],
                  Northings=site["northings"], OrthogonalHeight=site["height"],
                  XAxisAbscissa=site["xAxis"][0], XAxisOrdinate=site["xAxis"][1], Scale=1.0 / scale)
        self.site_place = f.local(None)
        ref = (math.cos(turn), math.sin(turn), 0.0) if turn else None
        self.building_place = f.local(self.site_place, shift, (0, 0, 1) if turn else None, ref)
        site_entity = f.add("IfcSite", GlobalId=guid(f"{own} site"), OwnerHistory=self.history,
                            Name="Marrowfield", ObjectPlacement=self.site_place, CompositionType=Enum("ELEMENT"),
                            RefLatitude=site["latitude"] if site else None,
                            RefLongitude=site["longitude"] if site else None,
                            RefElevation=f.m(site["height"]) if site else None)
        building = f.add("IfcBuilding", GlobalId=guid(f"{own} building"), OwnerHistory=self.history,
                         Name="Seed Store", ObjectPlacement=self.building_place, CompositionType=Enum("ELEMENT"))
        self.storeys, self.storey_place, self.storey_elements, self.parts = {}, {}, {}, {}
        for name, z in b.STOREYS:
            z += (raised or {}).get(name, 0.0)
            self.storey_place[name] = f.local(self.building_place, (0, 0, z))
            self.storeys[name] = f.add("IfcBuildingStorey", GlobalId=guid(f"{own} {name}"),
                                       OwnerHistory=self.history, Name=name, ObjectPlacement=self.storey_place[name],
                                       CompositionType=Enum("ELEMENT"), Elevation=f.m(z + shift[2]))
            self.storey_elements[name] = []
        self.relate("IfcRelAggregates", project, RelatingObject=project, RelatedObjects=[site_entity])
        self.relate("IfcRelAggregates", site_entity, RelatingObject=site_entity, RelatedObjects=[building])
        self.relate("IfcRelAggregates", building, RelatingObject=building, RelatedObjects=list(self.storeys.values()))
        self.types, self.materials, self.systems, self.sets, self.spaces = {}, {}, {}, {}, {}
        self.grid(axis_off)

    def id_of(self, key):
        return guid(f"{self.team} renewed {key}" if self.renewed else f"{self.team} {key}")

    def relate(self, kind, key, **values):
        return self.f.add(kind, GlobalId=guid(f"{self.own} {kind} {key} {self.f.next_id}"),
                          OwnerHistory=self.history, **values)

    def grid(self, axis_off):
        f = self.f
        ys = dict(b.LETTERS)
        if axis_off:
            ys[axis_off[0]] += axis_off[1]
        reach = 2.4

        def axis(tag, start, end):
            return f.add("IfcGridAxis", AxisTag=tag, AxisCurve=f.polyline([start, end], closed=False), SameSense=True)

        numbers = [axis(t, (x, -reach), (x, b.YS[-1] + reach)) for t, x in b.NUMBERS.items()]
        letters = [axis(t, (-reach, y), (b.XS[-1] + reach, y)) for t, y in ys.items()]
        curves = f.add("IfcGeometricCurveSet", Elements=[Ref(int(a) - f.step) for a in numbers + letters])
        shape = f.add("IfcShapeRepresentation", ContextOfItems=self.axis, RepresentationIdentifier="FootPrint",
                      RepresentationType="GeometricCurveSet", Items=[curves])
        grid = f.add("IfcGrid", GlobalId=guid(f"{self.own} grid"), OwnerHistory=self.history, Name="Building grid",
                     ObjectPlacement=f.local(self.building_place), UAxes=numbers, VAxes=letters,
                     Representation=f.add("IfcProductDefinitionShape", Representations=[shape]))
        self.storey_elements["Level 1"].append(grid)

    def shape(self, items, kind="SweptSolid"):
        f = self.f
        representation = f.add("IfcShapeRepresentation", ContextOfItems=self.body, RepresentationIdentifier="Body",
                               RepresentationType=kind, Items=items)
        return f.add("IfcProductDefinitionShape", Representations=[representation])

    def map(self, key, make):
        """A representation map that is written once; `make()` gives its items and their kind."""
        f = self.f
        if ("map", key) not in f.known:
            items, kind = make()
            representation = f.add("IfcShapeRepresentation", ContextOfItems=self.body,
                                   RepresentationIdentifier="Body", RepresentationType=kind, Items=items)
            f.known[("map", key)] = f.add("IfcRepresentationMap", MappingOrigin=f.place3(),
                                          MappedRepresentation=representation)
        target = f.once("IfcCartesianTransformationOperator3D", LocalOrigin=f.point(0, 0, 0))
        return f.add("IfcMappedItem", MappingSource=f.known[("map", key)], MappingTarget=target)

    def element(self, entity, key, name, storey, items, kind="SweptSolid", origin=(0, 0, 0), ref=None, type=None,
                material=None, system=None, properties=None, parent=None, **extra):
        """An element with its body. `origin` and the items are relative to the storey's placement."""
        f = self.f
        placement = f.local(parent or self.storey_place[storey], origin, (0, 0, 1) if ref else None, ref)
        e = f.add(entity, GlobalId=self.id_of(key), OwnerHistory=self.history, Name=name,
                  ObjectPlacement=placement, Representation=self.shape(items, kind) if items else None, **extra)
        self.log.append((entity, key, name, storey, properties or {}))
        if entity != "IfcOpeningElement":
            (self.spaces if entity == "IfcSpace" else self.storey_elements).setdefault(storey, []).append(e)
        for bucket, value in ((self.types, type), (self.materials, material), (self.systems, system)):
            if value:
                bucket.setdefault(value, []).append(e)
        for set_name, values in (properties or {}).items():
            self.sets.setdefault((set_name, tuple(values.items())), []).append(e)
        self.last_placement = placement
        return e

    def opening(self, host, host_placement, key, name, item, filling=None):
        f = self.f
        hole = f.add("IfcOpeningElement", GlobalId=guid(f"{self.team} {key}"), OwnerHistory=self.history, Name=name,
                     ObjectPlacement=f.local(host_placement), Representation=self.shape([item]))
        self.relate("IfcRelVoidsElement", key, RelatingBuildingElement=host, RelatedOpeningElement=hole)
        if filling:
            self.relate("IfcRelFillsElement", key, RelatingOpeningElement=hole, RelatedBuildingElement=filling)
        return hole

    def finish(self, path, type_entity, author="Sample Modeller", system_entity="IfcSystem"):
        f = self.f
        for storey, elements in self.storey_elements.items():
            if elements:
                self.relate("IfcRelContainedInSpatialStructure", storey, RelatingStructure=self.storeys[storey],
                            RelatedElements=elements)
        for storey, spaces in self.spaces.items():
            self.relate("IfcRelAggregates", f"spaces {storey}", RelatingObject=self.storeys[storey],
                        RelatedObjects=spaces)
        for name, elements in self.types.items():
            kind = type_entity(name)
            values = {"GlobalId": guid(f"{self.own} type {name}"), "OwnerHistory": self.history, "Name": name}
            if "PredefinedType" in f.attributes(kind)[0]:
                values["PredefinedType"] = Enum("NOTDEFINED")
            if kind == "IfcWindowType":
                values.update(PartitioningType=Enum("SINGLE_PANEL"), PredefinedType=Enum("WINDOW"))
            if kind == "IfcDoorType":
                values.update(OperationType=Enum("SINGLE_SWING_LEFT"), PredefinedType=Enum("DOOR"))
            if kind == "IfcFurnitureType":
                values.update(AssemblyPlace=Enum("NOTDEFINED"))
            self.relate("IfcRelDefinesByType", name, RelatingType=f.add(kind, **values), RelatedObjects=elements)
        for name, elements in self.materials.items():
            self.relate("IfcRelAssociatesMaterial", name, RelatingMaterial=f.add("IfcMaterial", Name=name),
                        RelatedObjects=elements)
        for name, elements in self.systems.items():
            group = f.add(system_entity, GlobalId=guid(f"{self.own} system {name}"), OwnerHistory=self.history,
                          Name=name)
            self.relate("IfcRelAssignsToGroup", name, RelatingGroup=group, RelatedObjects=elements)
        for (name, values), elements in self.sets.items():
            properties = [f.add("IfcPropertySingleValue", Name=n, NominalValue=v) for n, v in values]
            definition = f.add("IfcPropertySet", GlobalId=guid(f"{self.own} set {name} {f.next_id}"),
                               OwnerHistory=self.history, Name=name, HasProperties=properties)
            self.relate("IfcRelDefinesByProperties", name, RelatingPropertyDefinition=definition,
                        RelatedObjects=elements)
        f.write(path, path.name, author, self.company, self.time, "Marrowfield sample generator")


class Label(Typed):
    def __init__(self, value):
        super().__init__("IfcLabel", value)

    def __hash__(self):
        return hash((self.kind, self.value))

    def __eq__(self, other):
        return isinstance(other, Typed) and (self.kind, self.value) == (other.kind, other.value)


class Value(Label):
    def __init__(self, kind, value):
        Typed.__init__(self, kind, value)
