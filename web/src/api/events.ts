/** Server-sent events, one stream a browser: the window that holds the lock shares them. */

export interface ServerEvent {
  kind: "study" | "studies" | "presets" | "job" | "hello";
  data: Record<string, unknown>;
}

type Listener = (event: ServerEvent) => void;

const listeners = new Set<Listener>();
const channel = new BroadcastChannel("zygomorph-events");
channel.onmessage = (message) => tell(message.data as ServerEvent);

function tell(event: ServerEvent) {
  for (const listener of listeners) listener(event);
}

function open() {
  const source = new EventSource("/api/events");
  for (const kind of ["study", "studies", "presets", "job", "hello"] as const) {
    source.addEventListener(kind, (message) => {
      const event = { kind, data: JSON.parse((message as MessageEvent<string>).data) };
      channel.postMessage(event);
      tell(event);
    });
  }
}

void navigator.locks?.request("zygomorph-events", () => {
  open();
  return new Promise<void>(() => undefined);
});

export function listen(listener: Listener): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}
