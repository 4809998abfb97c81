import {
  BoxGeometry,
  Color,
  DirectionalLight,
  HemisphereLight,
  Mesh,
  MeshStandardMaterial,
  NoToneMapping,
  PerspectiveCamera,
  PMREMGenerator,
  Scene,
  SphereGeometry,
  SRGBColorSpace,
  WebGLRenderer,
} from 'three';
import { RoomEnvironment } from 'three/examples/jsm/environments/RoomEnvironment.js';
import type { Surface } from '#core/swatch/index';

/** What a sphere and a cube are made of. */
export interface Look extends Surface {
  /** Encoded sRGB, 0–1. */
  rgb: readonly number[];
  alpha: number;
}

/** A lit sphere and cube on a canvas. */
export class MaterialScene {
  private readonly renderer: WebGLRenderer;
  private readonly scene = new Scene();
  private readonly camera = new PerspectiveCamera(30, 1, 0.1, 50);
  private readonly material = new MeshStandardMaterial();
  private readonly bodies: Mesh[];

  /** @throws Error where the browser has no WebGL */
  constructor(canvas: HTMLCanvasElement) {
    this.renderer = new WebGLRenderer({ canvas, antialias: true, alpha: true });
    this.renderer.outputColorSpace = SRGBColorSpace;
    this.renderer.toneMapping = NoToneMapping;
    const generator = new PMREMGenerator(this.renderer);
    this.scene.environment = generator.fromScene(new RoomEnvironment(), 0.04).texture;
    this.scene.environmentIntensity = 0.5;
    generator.dispose();
    const sun = new DirectionalLight(0xffffff, 1.1);
    sun.position.set(-3, 4, 5);
    this.scene.add(sun, new HemisphereLight(0xffffff, 0x888888, 0.5));
    const sphere = new Mesh(new SphereGeometry(1, 96, 64), this.material);
    sphere.position.x = -1.35;
    const cube = new Mesh(new BoxGeometry(1.5, 1.5, 1.5), this.material);
    cube.position.x = 1.35;
    cube.rotation.set(0.45, 0.7, 0);
    this.bodies = [sphere, cube];
    this.scene.add(sphere, cube);
    this.camera.position.set(0, 0.4, 7);
    this.camera.lookAt(0, 0, 0);
  }

  /** Shows a material; the size is that of the canvas on the page. */
  show({ rgb, alpha, roughness, metalness }: Look, width: number, height: number): void {
    if (width === 0 || height === 0) return;
    this.material.color = new Color().setRGB(rgb[0]!, rgb[1]!, rgb[2]!, SRGBColorSpace);
    this.material.opacity = alpha;
    this.material.transparent = alpha < 1;
    this.material.roughness = roughness;
    this.material.metalness = metalness;
    this.renderer.setPixelRatio(window.devicePixelRatio);
    this.renderer.setSize(width, height, false);
    this.camera.aspect = width / height;
    this.camera.updateProjectionMatrix();
    this.renderer.render(this.scene, this.camera);
  }

  /** Turns both bodies, radians. */
  turn(by: number): void {
    for (const body of this.bodies) body.rotation.y += by;
  }

  end(): void {
    for (const body of this.bodies) body.geometry.dispose();
    this.material.dispose();
    this.scene.environment?.dispose();
    this.renderer.dispose();
  }
}
