// A reader who asks for one page again and again while others attack, in a thread of their own: what they wait is told each time.
import { Agent, request } from "node:http";
import { parentPort, workerData } from "node:worker_threads";

const agent = new Agent({ keepAlive: true });
const PAUSE = 60;
const now = () => performance.timeOrigin + performance.now();

function read() {
  const began = now();
  const next = () => {
    parentPort.postMessage([began, now()]);
    setTimeout(read, PAUSE);
  };
  request(workerData, { agent }, (answer) => answer.resume().on("end", next))
    .on("error", () => setTimeout(read, PAUSE))
    .end();
}
read();
