// The picture as each channel gets it: what of it each shape takes, at the sizes at which people meet it, and
// what is to be said about it. The common case needs no work: a crop is suggested.
import { NETWORK_NAMES, type RenditionView, type ShowView } from '@lantern/contract';
import { MET_AT_PX, movedCrop, type Crop } from '@lantern/core';
import { useQueryClient } from '@tanstack/react-query';
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { server, wordsOf } from '../app/server';
import { Notice } from '../look/Notice';
import { useRenditionsQuery } from './picture-queries';

const STEP = 0.02;

interface Props {
  show: ShowView;
  onStored: (show: ShowView) => void;
}

export function Renditions({ show, onStored }: Props) {
  const queries = useQueryClient();
  const version = show.thumbnail?.url;
  const renditions = useRenditionsQuery(show);
  const [trouble, setTrouble] = useState('');
  const shapes = [...new Set((renditions.data ?? []).map(({ shape }) => shape))];
  const crop = async (shape: number, { x, y }: Crop) => {
    setTrouble('');
    try {
      onStored(await server.put<ShowView>(`/api/shows/${show.id}/crops`, { shape, x, y }));
      await queries.invalidateQueries({ queryKey: ['renditions', show.id] });
    } catch (error) {
      setTrouble(wordsOf(error));
    }
  };
  if (renditions.isPending && show.channelIds.length) return <p className="soft small-words mt-3 mb-0">Fitting it to each channel…</p>;
  if (!shapes.length) return null;
  return (
    <details className="renditions small-words mt-3">
      <summary>{warned(renditions.data!) ? 'As each channel gets it: look at the warnings' : 'As each channel gets it'}</summary>
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
      {shapes.map((shape) => {
        const own = renditions.data!.filter((rendition) => rendition.shape === shape);
        const [first] = own as [RenditionView];
        return (
          <div key={shape} className="shape">
            <CropBox
              key={`${first.url}${first.crop.x}${first.crop.y}`}
              picture={`/api/shows/${show.id}/picture?v=${version?.split('v=')[1]}`}
              composed={!!show.thumbnail?.recipe}
              rendition={first}
              onCrop={(chosen) => void crop(shape, chosen)}
            />
            <div className="met">
              {MET_AT_PX.map((width) => (
                <img key={width} src={first.url} width={width} height={Math.round(width / shape)} alt={`The picture ${width} pixels wide`} />
              ))}
            </div>
            <ul>
              {own.map((rendition) => (
                <Facts key={rendition.channelId} rendition={rendition} show={show} />
              ))}
            </ul>
          </div>
        );
      })}
    </details>
  );
}

const warned = (renditions: readonly RenditionView[]): boolean => renditions.some(({ warnings }) => warnings.length > 0);

const WARNING_WORDS: Record<RenditionView['warnings'][number], string> = {
  loses: 'To be light enough it was made visibly poorer. A plainer picture keeps more.',
  small: 'Letters on it are too small to be read in a row of other pictures. Use fewer and larger words.',
  pale: 'Letters on it stand out too little from what lies behind them.',
  badge: 'Something stands in the lower right corner, where players write the length.',
  alike: 'It is hardly told from the picture of the date before. Show what is new.',
};

function Facts({ rendition, show }: { rendition: RenditionView; show: ShowView }) {
  const { channelId, width, height, bytes, quality, ssim, warnings } = rendition;
  const channel = show.airings.find((airing) => airing.channel.id === channelId)?.channel;
  if (!channel) return null;
  const weight = bytes < 1_000_000 ? `${Math.round(bytes / 1_000)} kB` : `${(bytes / 1_000_000).toFixed(1)} MB`;
  return (
    <li>
      {channel.name}, {channel.network === 'typed-in' ? '' : NETWORK_NAMES[channel.network]}{' '}
      <span className="soft">
        {width}×{height}, {weight}, quality {quality}, keeps {(ssim * 100).toFixed(1)} %
      </span>
      {warnings.map((warning) => (
        <Notice key={warning} kind="caution" live={false}>
          {WARNING_WORDS[warning]}
        </Notice>
      ))}
    </li>
  );
}

/** The whole picture with the part that this shape takes: dragged, or moved by arrow keys. */
function CropBox({ picture, composed, rendition, onCrop }: { picture: string; composed: boolean; rendition: RenditionView; onCrop: (crop: Crop) => void }) {
  const [crop, setCrop] = useState(rendition.crop);
  const held = useRef<{ x: number; y: number; crop: Crop } | null>(null);
  const frame = useRef<HTMLDivElement>(null);
  const whole = crop.width > 0.995 && crop.height > 0.995;
  if (whole) return <p className="mb-2">{composed ? 'Drawn for this shape.' : 'All of the picture is taken.'}</p>;
  const press = (event: PointerEvent<HTMLDivElement>) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    held.current = { x: event.clientX, y: event.clientY, crop };
  };
  const drag = (event: PointerEvent<HTMLDivElement>) => {
    if (!held.current || !frame.current) return;
    const { width, height } = frame.current.getBoundingClientRect();
    setCrop(movedCrop(held.current.crop, (event.clientX - held.current.x) / width, (event.clientY - held.current.y) / height));
  };
  const release = () => {
    if (held.current && crop !== held.current.crop) onCrop(crop);
    held.current = null;
  };
  const keys = (event: KeyboardEvent) => {
    const by = { ArrowLeft: [-STEP, 0], ArrowRight: [STEP, 0], ArrowUp: [0, -STEP], ArrowDown: [0, STEP] }[event.key];
    if (by) {
      event.preventDefault();
      setCrop(movedCrop(crop, by[0]!, by[1]!));
    }
    if (event.key === 'Enter' && crop !== rendition.crop) {
      event.preventDefault();
      onCrop(crop);
    }
  };
  const percent = (part: number) => `${part * 100}%`;
  return (
    <>
      <p className="mb-1">
        {rendition.byHand ? 'You chose this part.' : 'This part is suggested.'} <span className="soft">Drag it, or move it with the arrow keys and Enter.</span>
      </p>
      <div ref={frame} className="crop-frame">
        <img src={picture} alt="The whole picture" />
        <div
          className="crop"
          role="slider"
          tabIndex={0}
          aria-label="The part that is taken"
          aria-valuemin={0}
          aria-valuemax={100}
          aria-valuenow={Math.round((crop.width < 1 ? crop.x / (1 - crop.width) : crop.y / (1 - crop.height)) * 100)}
          style={{ left: percent(crop.x), top: percent(crop.y), width: percent(crop.width), height: percent(crop.height) }}
          onPointerDown={press}
          onPointerMove={drag}
          onPointerUp={release}
          onKeyDown={keys}
          onBlur={() => crop !== rendition.crop && onCrop(crop)}
        />
      </div>
    </>
  );
}
