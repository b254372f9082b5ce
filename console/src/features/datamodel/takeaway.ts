/** A drawing as a file of its own: with the colours that it has on the page. */
const NAMES = [
  "--ink",
  "--soft",
  "--rule",
  "--sheet",
  "--paper",
  "--accent",
  "--dangling",
  "--stale",
];

function drawn(svg: SVGSVGElement): string {
  const copy = svg.cloneNode(true) as SVGSVGElement;
  const styles = getComputedStyle(document.documentElement);
  let text = new XMLSerializer().serializeToString(copy);
  for (const name of NAMES)
    text = text.replaceAll(`var(${name})`, styles.getPropertyValue(name).trim());
  return text
    .replaceAll("var(--font-mono)", "monospace")
    .replaceAll("var(--font-sans)", "sans-serif");
}

function hand(name: string, address: string) {
  const link = document.createElement("a");
  link.download = name;
  link.href = address;
  link.click();
}

export function takeSvg(svg: SVGSVGElement, name: string) {
  hand(`${name}.svg`, `data:image/svg+xml;charset=utf-8,${encodeURIComponent(drawn(svg))}`);
}

export function takePng(svg: SVGSVGElement, name: string) {
  const { width, height } = svg.viewBox.baseVal;
  const picture = new Image();
  picture.onload = () => {
    const canvas = document.createElement("canvas");
    canvas.width = 2 * width;
    canvas.height = 2 * height;
    const brush = canvas.getContext("2d");
    if (!brush) return;
    brush.fillStyle = getComputedStyle(document.body).backgroundColor;
    brush.fillRect(0, 0, canvas.width, canvas.height);
    brush.drawImage(picture, 0, 0, canvas.width, canvas.height);
    hand(`${name}.png`, canvas.toDataURL("image/png"));
  };
  picture.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(drawn(svg))}`;
}
