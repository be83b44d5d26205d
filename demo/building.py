"""The Marrowfield Seed Store: the dimensions all three teams share, in the building's own frame.

Metres; x along the numbered axes, y along the lettered ones, z = 0 at the finished floor of Level 1.
"""
import math

NUMBERS = {str(i + 1): 7.2 * i for i in range(7)}
LETTERS = {"A": 0.0, "B": 7.2, "C": 13.2, "D": 20.4}
XS, YS = list(NUMBERS.values()), list(LETTERS.values())
STOREYS = [("Cellar", -3.6), ("Level 1", 0.0), ("Level 2", 4.2), ("Level 3", 8.4), ("Roof", 12.6)]
HEIGHT = {name: z for name, z in STOREYS}
ABOVE = {STOREYS[i][0]: STOREYS[i + 1][0] for i in range(4)}
FLOORS = ["Level 1", "Level 2", "Level 3"]

FINISH = 0.08          # floor finish above the structural slab
SLAB = 0.26
COLUMN = 0.40
EDGE = 0.30            # slab edge and inner face of the outer walls, outside the outer axes
OUTER = 0.365          # outer wall
CELLAR_EDGE, CELLAR_WALL = 0.35, 0.30
CORE = (22.2, 9.6, 28.2, 12.6)       # outer faces of the stair and lift core
CORE_WALL = 0.25
SHAFT = (8.6, 10.4, 11.0, 11.6)      # opening for the risers
CORRIDOR_SOUTH, CORRIDOR_NORTH = 7.65, 12.75  # centre lines of the corridor walls
PARTITION = 0.15

# What each team's file frame is to the building's: a turn about z, then a shift. File = turn(building) + shift.
TURN = math.radians(17.3)
ARCHITECTURE_SHIFT = (12.5, 8.25, 0.0)
STRUCTURE_SHIFT = (10.0, 10.0, 312.6)       # modelled at heights above the sea
VENTILATION_SHIFT = (0.0, -20.4, 3.6)       # origin at D/1 on the cellar floor
# What stands elsewhere in the fourth cycle, and why.
STRUCTURE_MOVED = (15.0, -6.0, 0.0)         # exported from another origin: everything moved by this
STRUCTURE_MOVED_SHIFT = tuple(a + d for a, d in zip(STRUCTURE_SHIFT, STRUCTURE_MOVED))
VENTILATION_LOW_SHIFT = (0.0, -20.4, -4.2)  # heights from Level 2: a storey too low
ELECTRICAL_AXIS = ("C", 0.035)              # its axis C is drawn so much too far north
PIPING_SHIFT = (-21.6, -10.2, 0.0)          # origin in the middle of the plan


def slab_top(storey):
    return HEIGHT[storey] - FINISH


def slab_bottom(storey):
    return slab_top(storey) - SLAB


def in_architecture(p):
    """A place of the building in the architecture file's frame, which is the federation's."""
    c, s = math.cos(TURN), math.sin(TURN)
    return [c * p[0] - s * p[1] + ARCHITECTURE_SHIFT[0], s * p[0] + c * p[1] + ARCHITECTURE_SHIFT[1],
            p[2] + ARCHITECTURE_SHIFT[2]]


def true_fit(shift):
    """Turn and shift from an unturned team's frame to the architecture's."""
    origin = in_architecture([-v for v in shift])
    return {"rotationDegrees": math.degrees(TURN), "translation": origin, "scale": 1.0}
