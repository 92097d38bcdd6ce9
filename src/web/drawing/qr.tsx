import QRCode from 'qrcode';
import { useMemo } from 'react';

/** A QR code as one path, sharp at any size. */
export function Qr({ text, name }: { text: string; name: string }) {
  const { size, path } = useMemo(() => {
    const { modules } = QRCode.create(text, { errorCorrectionLevel: 'M' });
    let drawn = '';
    for (let y = 0; y < modules.size; y++)
      for (let x = 0; x < modules.size; x++) if (modules.get(x, y)) drawn += `M${x} ${y}h1v1h-1z`;
    return { size: modules.size, path: drawn };
  }, [text]);
  return (
    <svg
      className="qr"
      viewBox={`-2 -2 ${size + 4} ${size + 4}`}
      role="img"
      aria-label={`QR code, ${name}`}
      shapeRendering="crispEdges"
    >
      <rect x="-2" y="-2" width={size + 4} height={size + 4} fill="#fff" />
      <path d={path} fill="#1e2b2c" />
    </svg>
  );
}
