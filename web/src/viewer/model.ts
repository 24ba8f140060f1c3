import * as THREE from "three";
import { OrbitControls } from "three/addons/controls/OrbitControls.js";
import { GLTFLoader } from "three/addons/loaders/GLTFLoader.js";
import { around, hang } from "./lamps";
import type { Told } from "./told";

/** A model on the page that is turned by dragging. */
export interface Shown {
  /** Draw the moment, seconds from the beginning of the loop. */
  show: (seconds: number) => void;
}

/** Stands it in an element of the page, lit and seen as in the study. */
export async function showModel(place: HTMLElement, told: Told, glb: ArrayBuffer): Promise<Shown> {
  const gl = new THREE.WebGLRenderer({ antialias: true, alpha: true });
  gl.toneMapping = THREE.NeutralToneMapping;
  gl.toneMappingExposure = told.exposure;
  gl.shadowMap.enabled = true;
  gl.shadowMap.type = THREE.PCFShadowMap;
  gl.domElement.setAttribute("aria-label", "The model; drag to turn, wheel to zoom");
  gl.domElement.setAttribute("role", "img");
  place.append(gl.domElement);

  const scene = new THREE.Scene();
  scene.environment = around(gl, told);
  const { scene: model, animations } = await new GLTFLoader().parseAsync(glb, "");
  model.traverse((each) => {
    if (!(each instanceof THREE.Mesh)) return;
    each.castShadow = each.receiveShadow = true;
    // Its box is that of its rest shape, and it may move out of it.
    each.frustumCulled = false;
  });
  scene.add(model);
  const mixer = new THREE.AnimationMixer(model);
  for (const clip of animations) mixer.clipAction(clip).play();
  mixer.setTime(0);
  model.updateMatrixWorld(true);
  const box = new THREE.Box3().setFromObject(model, true);
  hang(scene, told, box);
  // In the scene, so that glass shows it as well.
  const behind = await new THREE.TextureLoader().loadAsync(told.backdrop);
  behind.colorSpace = THREE.SRGBColorSpace;
  scene.background = behind;
  stand(scene, told, box);

  const camera = new THREE.PerspectiveCamera(told.view.angle, 1, 0.01, 1000);
  camera.position.fromArray(told.view.position);
  const controls = new OrbitControls(camera, gl.domElement);
  controls.target.fromArray(told.view.target);
  controls.enableDamping = false;
  controls.update();
  controls.saveState();
  gl.domElement.addEventListener("dblclick", () => controls.reset());

  const draw = () => gl.render(scene, camera);
  controls.addEventListener("change", draw);
  const fill = () => {
    const { clientWidth: width, clientHeight: height } = place;
    gl.setPixelRatio(Math.min(window.devicePixelRatio, 2));
    gl.setSize(width, height);
    camera.aspect = width / height;
    cover(behind, camera.aspect);
    camera.fov = angleFor(told, camera.aspect);
    camera.updateProjectionMatrix();
    draw();
  };
  new ResizeObserver(fill).observe(place);
  fill();
  return {
    show: (seconds) => {
      mixer.setTime(seconds);
      draw();
    },
  };
}

/** The middle of a picture, as large as it must be to fill a window of some form. */
function cover(picture: THREE.Texture<HTMLImageElement>, aspect: number) {
  const own = picture.image.width / picture.image.height;
  picture.repeat.set(Math.min(1, aspect / own), Math.min(1, own / aspect));
  picture.offset.set((1 - picture.repeat.x) / 2, (1 - picture.repeat.y) / 2);
}

/** All of the study's picture is seen, whatever form the window has. */
function angleFor({ view }: Told, aspect: number): number {
  const half = Math.tan((view.angle * Math.PI) / 360);
  return (Math.atan(half * Math.max(1, view.aspect / aspect)) * 360) / Math.PI;
}

/** The ground that it stands on, as in the study; mirrors are plain. */
function stand(scene: THREE.Scene, { ground }: Told, box: THREE.Box3) {
  if (ground.kind === "none") return;
  const radius = box.getSize(new THREE.Vector3()).length() / 2;
  const reach = radius * (ground.kind === "shadow" ? 6 : 30);
  const material =
    ground.kind === "shadow"
      ? new THREE.ShadowMaterial({ opacity: ground.shadow })
      : new THREE.MeshStandardMaterial({ color: ground.colour, roughness: ground.roughness });
  const floor = new THREE.Mesh(new THREE.CircleGeometry(reach, 64), material);
  floor.rotation.x = -Math.PI / 2;
  floor.position.y = ground.level ?? box.min.y - radius * 0.02;
  floor.receiveShadow = true;
  scene.add(floor);
}
