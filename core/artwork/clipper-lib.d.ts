// The part of clipper-lib that is used; it has no types of its own.
declare module 'clipper-lib' {
  interface IntPoint {
    X: number;
    Y: number;
  }
  type Path = IntPoint[];
  class ClipperOffset {
    constructor(miterLimit: number, arcTolerance: number);
    AddPaths(paths: Path[], join: number, end: number): void;
    Execute(solution: Path[], delta: number): void;
  }
  class Clipper {
    AddPaths(paths: Path[], type: number, closed: boolean): boolean;
    Execute(type: number, solution: Path[], subject: number, clip: number): boolean;
    static Orientation(path: Path): boolean;
    static CleanPolygons(paths: Path[], distance: number): Path[];
  }
  const Library: {
    Clipper: typeof Clipper;
    ClipperOffset: typeof ClipperOffset;
    ClipType: { ctUnion: number };
    PolyType: { ptSubject: number };
    PolyFillType: { pftNonZero: number; pftPositive: number };
    JoinType: { jtRound: number };
    EndType: { etClosedPolygon: number; etOpenRound: number };
  };
  export default Library;
}
