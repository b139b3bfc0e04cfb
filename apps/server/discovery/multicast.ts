import { Bonjour, type Service } from 'bonjour-service';
import { type Announced, type Listen, SERVICES } from './discovery';

const announced = ({ name, type, port, txt, referer }: Service): Announced => ({
  name: String(name),
  type,
  from: referer?.address ?? '',
  port: Number(port),
  txt: typeof txt === 'object' && txt !== null ? (txt as Record<string, unknown>) : {},
});

/** Stands for every network of this machine. */
const EVERY = '0.0.0.0';

/** Listens to multicast DNS (RFC 6762). @param interfaces addresses of those to listen on @param onTrouble one of them cannot be listened on; the others go on */
export function listenMulticast(interfaces: readonly string[], onTrouble: (error: unknown) => void): Listen {
  return (up, down) => {
    const all = interfaces.map((item) => {
      const bonjour = new Bonjour(
        { ...(item === EVERY ? {} : { interface: item }), bind: '0.0.0.0', loopback: true } as object,
        onTrouble,
      );
      for (const { type, protocol } of SERVICES) {
        const browser = bonjour.find({ type, protocol });
        browser.on('up', (service: Service) => up(announced(service)));
        browser.on('down', (service: Service) => down(announced(service)));
      }
      return bonjour;
    });
    return () => all.forEach((bonjour) => bonjour.destroy());
  };
}
